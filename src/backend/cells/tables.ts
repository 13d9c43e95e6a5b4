import { pgTable, text } from 'drizzle-orm/pg-core'
import { instant } from '../platform/columns.ts'

/** The directory: in which cell a shop lives. It is read in the home cell alone; shops that are not in it live there. */
export const shopPlaces = pgTable('shop_places', {
  shopId: text('shop_id').primaryKey(),
  cell: text('cell').notNull(),
})

/** Shops that have left this cell, or are about to: nothing of theirs may be written here any more. */
export const shopFences = pgTable('shop_fences', {
  shopId: text('shop_id').primaryKey(),
  /** Real time. */
  since: instant('since').notNull(),
})
