import { jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

/** From whom messages may come, besides the shop's own sender. */
export const senders = pgTable(
  'senders',
  {
    shopId: shopId(),
    /** In small letters. */
    address: text('address').notNull(),
    name: text('name').notNull(),
    /** When whoever reads its mail agreed; null until then. */
    verifiedAt: instant('verified_at'),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.address] })],
)

export const staffGroups = pgTable(
  'staff_groups',
  {
    shopId: shopId(),
    key: text('key').notNull(),
    name: text('name').notNull(),
    addresses: jsonb('addresses').$type<string[]>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.key] })],
)
