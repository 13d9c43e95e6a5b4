import { integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

/** Figures of a large shop that were summed over all of it, as they were at a moment of its clock. */
export const keptFigures = pgTable(
  'kept_figures',
  {
    shopId: shopId(),
    /** Which figures, with all that they hang on. */
    key: text('key').notNull(),
    asOf: instant('as_of').notNull(),
    /** How long it took to count them. */
    tookMs: integer('took_ms').notNull(),
    figures: jsonb('figures').$type<unknown>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.key] })],
)
