import { index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import type { ExpectedReorder } from '../../core/events/reorder.ts'
import type { ReorderCheck } from '../../core/reorder/check.ts'
import type { ReorderInterval } from '../../core/reorder/interval.ts'
import { instant, shopId } from '../platform/columns.ts'

/** After how many days products are bought again, as last reckoned. */
export const reorderIntervals = pgTable(
  'reorder_intervals',
  {
    shopId: shopId(),
    kind: text('kind', { enum: ['product', 'category'] }).notNull(),
    /** The product's id, or the category. */
    key: text('key').notNull(),
    interval: jsonb('interval').$type<ReorderInterval>().notNull(),
    /** What was expected half a year ago held against what came; null where that was not known enough. */
    check: jsonb('checked').$type<ReorderCheck>(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.kind, table.key] })],
)

/** When people are expected to buy again what they bought last; a row for each product of each person. */
export const expectedReorders = pgTable(
  'expected_reorders',
  {
    shopId: shopId(),
    customerId: text('customer_id').notNull(),
    productId: text('product_id').notNull(),
    orderId: text('order_id').notNull(),
    line: integer('line').notNull(),
    expectedAt: instant('expected_at').notNull(),
    expected: jsonb('expected').$type<ExpectedReorder>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.customerId, table.productId] }),
    index('expected_reorders_at').on(table.shopId, table.expectedAt),
    index('expected_reorders_order').on(table.shopId, table.orderId),
  ],
)

/** When intervals were reckoned, and when they will be again. */
export const reorderReckonings = pgTable('reorder_reckonings', {
  shopId: text('shop_id').primaryKey(),
  reckonedAt: instant('reckoned_at'),
  nextAt: instant('next_at').notNull(),
})
