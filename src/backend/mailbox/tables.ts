import { index, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

/** Mails as they came over the wire to the SMTP server that ships with the project, and texts. */
export const mails = pgTable(
  'mails',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    kind: text('kind', { enum: ['mail', 'text'] })
      .notNull()
      .default('mail'),
    /** The whole MIME message, base64: it may hold any bytes. */
    raw: text('raw').notNull(),
    messageId: text('message_id').notNull(),
    /** The Date header. */
    date: instant('date').notNull(),
    fromText: text('from_text').notNull(),
    toAddress: text('to_address').notNull(),
    subject: text('subject').notNull(),
    plain: text('plain').notNull(),
    html: text('html'),
    headers: jsonb('headers').$type<{ name: string; value: string }[]>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('mails_message').on(table.shopId, table.messageId),
    index('mails_newest').on(table.shopId, table.date, table.id),
  ],
)
