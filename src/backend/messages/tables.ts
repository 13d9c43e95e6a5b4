import { sql } from 'drizzle-orm'
import { index, integer, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

export const messages = pgTable(
  'messages',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    runId: instant('run_id').notNull(),
    workflowId: text('workflow_id').notNull(),
    version: integer('version').notNull(),
    step: text('step').notNull(),
    customerId: text('customer_id').notNull(),
    /**
     * `queued` → `handingOver` → `sent`. A process that dies in between leaves `handingOver`
     * behind, which the next one turns into `unsure`.
     */
    status: text('status', {
      enum: ['queued', 'handingOver', 'sent', 'skipped', 'failed', 'unsure'],
    }).notNull(),
    /** The process that is handing it over. */
    worker: text('worker'),
    /** The Message-ID header, the same however often it is tried. */
    messageId: text('message_id').notNull(),
    toAddress: text('to_address'),
    subject: text('subject'),
    decidedAt: instant('decided_at').notNull(),
    sentAt: instant('sent_at'),
    attempts: integer('attempts').notNull().default(0),
    lastError: text('last_error'),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    uniqueIndex('messages_once_per_step').on(table.shopId, table.runId, table.step),
    index('messages_open')
      .on(table.shopId, table.status)
      .where(sql`status in ('queued', 'handingOver', 'failed', 'unsure')`),
    index('messages_workflow').on(table.shopId, table.workflowId, table.decidedAt),
  ],
)
