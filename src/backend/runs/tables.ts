import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

export const runs = pgTable(
  'runs',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    workflowId: text('workflow_id').notNull(),
    version: integer('version').notNull(),
    customerId: text('customer_id').notNull(),
    orderId: text('order_id'),
    /** The triggering event; a run for it is made once, however often it is looked at. */
    eventSeq: instant('event_seq').notNull(),
    enteredAt: instant('entered_at').notNull(),
    status: text('status', { enum: ['inProgress', 'ended'] }).notNull(),
    step: text('step'),
    since: instant('since').notNull(),
    /** When a worker has to look at it again. */
    dueAt: instant('due_at'),
    /** Where `due_at` is kept while its workflow is paused. */
    heldDueAt: instant('held_due_at'),
    /** Whether it left by an exclusion or came to its end. */
    outcome: text('outcome', { enum: ['completed', 'left'] }),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    uniqueIndex('runs_once_per_event').on(table.shopId, table.workflowId, table.eventSeq),
    index('runs_due')
      .on(table.shopId, table.dueAt)
      .where(sql`due_at is not null`),
    index('runs_entries').on(table.shopId, table.workflowId, table.customerId, table.enteredAt),
  ],
)

/** Every decision, with its reason and the facts used. Rows are only ever added. */
export const ledger = pgTable(
  'ledger',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    /** By the shop clock. */
    at: instant('at').notNull(),
    workflowId: text('workflow_id').notNull(),
    version: integer('version').notNull(),
    runId: instant('run_id'),
    customerId: text('customer_id').notNull(),
    orderId: text('order_id'),
    kind: text('kind').notNull(),
    /** The decision as the core made it. */
    entry: jsonb('entry').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('ledger_run').on(table.shopId, table.runId),
    index('ledger_workflow').on(table.shopId, table.workflowId, table.id),
  ],
)
