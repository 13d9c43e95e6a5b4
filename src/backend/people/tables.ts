import { sql } from 'drizzle-orm'
import { jsonb, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import type { Condition } from '../../core/conditions/condition.ts'
import { instant, shopId } from '../platform/columns.ts'

/** Conditions on people that are kept under a name. Who is in one is asked each time. */
export const segments = pgTable(
  'segments',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    condition: jsonb('condition').$type<Condition>().notNull(),
    /** Who changed it last, and when, by the shop clock. */
    person: text('person').notNull(),
    changedAt: instant('changed_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    uniqueIndex('segments_name').on(table.shopId, sql`lower(name)`),
  ],
)
