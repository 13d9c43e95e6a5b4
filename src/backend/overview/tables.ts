import { jsonb, pgTable, primaryKey } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'
import type { DayCount } from './dayCount.ts'

/** Who entered, came to the end, and got what on a day of the shop. A day without a row is to be counted. */
export const sendingDays = pgTable(
  'sending_days',
  {
    shopId: shopId(),
    /** When the day begins, and when the next one does. */
    day: instant('day').notNull(),
    until: instant('until').notNull(),
    counts: jsonb('counts').$type<DayCount[]>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.day] })],
)
