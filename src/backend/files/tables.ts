import { customType, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

/** Images that messages show. Whoever has the address of one may load it. */
export const files = pgTable(
  'files',
  {
    shopId: shopId(),
    /** Cannot be guessed. */
    id: text('id').notNull().unique(),
    name: text('name').notNull(),
    type: text('type', { enum: ['image/png', 'image/jpeg', 'image/gif', 'image/webp'] }).notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    bytes: bytes('bytes').notNull(),
    madeAt: instant('made_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

/** Files that go with messages. */
export const documents = pgTable(
  'documents',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    /** The media type. */
    type: text('type').notNull(),
    bytes: bytes('bytes').notNull(),
    madeAt: instant('made_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)
