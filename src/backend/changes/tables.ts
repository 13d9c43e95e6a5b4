import { index, pgTable, text } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

/**
 * That something has happened to a customer, at a moment by the shop clock: what was counted of the days that it may
 * change is to be counted anew. Rows are written in the transaction that made the change, and go when they have been seen to.
 */
export const changes = pgTable(
  'changes',
  {
    shopId: shopId(),
    customerId: text('customer_id').notNull(),
    at: instant('at').notNull(),
  },
  (table) => [index('changes_shop').on(table.shopId)],
)
