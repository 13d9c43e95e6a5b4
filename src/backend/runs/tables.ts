import { sql } from 'drizzle-orm'
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import type { LocalHours, RunState } from '../../core/workflow/runState.ts'
import { instant, shopId } from '../platform/columns.ts'

export const runs = pgTable(
  'runs',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    workflowId: text('workflow_id').notNull(),
    version: integer('version').notNull(),
    customerId: text('customer_id').notNull(),
    /** The order, checkout, subscription … it is about; null for the customer alone. */
    subjectId: text('subject_id'),
    /** The position of the order's line it is about, for runs per line. */
    line: integer('line'),
    /** Names what started it: an event, a date, a person. For each a run is made once. */
    idempotencyKey: text('idempotency_key').notNull(),
    /** The event that started it; null for a date or a person. */
    eventSeq: instant('event_seq'),
    enteredAt: instant('entered_at').notNull(),
    status: text('status', { enum: ['inProgress', 'ended'] }).notNull(),
    step: text('step'),
    since: instant('since').notNull(),
    /** When a worker has to look at it again. */
    dueAt: instant('due_at'),
    /**
     * When its wait is over. The same as `due_at`, but for runs that are to be looked at earlier, and
     * those that came due in a pause, which have no `due_at`.
     */
    parkedUntil: instant('parked_until'),
    /** The type of event that wakes it, or `subject`: any news of what it is about. */
    awaits: text('awaits').$type<RunState['awaits']>(),
    skipNext: boolean('skip_next').notNull().default(false),
    /** Messages whose moment was before this are passed over. */
    skipBefore: instant('skip_before'),
    /** The local hour and weekdays that the wait behind it permits. */
    hours: jsonb('hours').$type<LocalHours>(),
    /** Coupon steps it has passed whose code is issued with the first message that shows it. */
    owed: jsonb('owed').$type<string[]>().notNull().default([]),
    /** True once it was moved to another version, in which steps may come again. */
    moved: boolean('moved').notNull().default(false),
    /** How it ended: by an exclusion, at its end, because the workflow was retired, or by hand. */
    outcome: text('outcome', { enum: ['completed', 'left', 'retired', 'takenOut'] }),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    uniqueIndex('runs_once_per_idempotency_key').on(
      table.shopId,
      table.workflowId,
      table.idempotencyKey,
    ),
    index('runs_awaiting')
      .on(table.shopId, table.customerId)
      .where(sql`awaits is not null`),
    index('runs_entries').on(table.shopId, table.workflowId, table.customerId, table.enteredAt),
    index('runs_entered').on(table.shopId, table.workflowId, table.enteredAt),
    index('runs_customer').on(table.shopId, table.customerId),
    index('runs_in_progress')
      .on(table.shopId, table.workflowId, table.version, table.id)
      .where(sql`status = 'inProgress'`),
  ],
)

/**
 * The runs that have a `due_at`, for looking them up by it. A trigger of `runs` keeps it, and nothing else writes it. It is a table of its own
 * because that moment changes with every step: were it in an index of `runs`, each step would leave a row behind in all indexes there.
 */
export const dueRuns = pgTable(
  'due_runs',
  {
    shopId: shopId(),
    runId: instant('run_id').notNull(),
    dueAt: instant('due_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.runId] }),
    index('due_runs_due').on(table.shopId, table.dueAt, table.runId),
  ],
)

/** What is done to everybody in a workflow at once, and how far it has come. Those that are done stay on record. */
export const bulkChanges = pgTable(
  'bulk_changes',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    workflowId: text('workflow_id').notNull(),
    /** Held runs go on, all are ended, or those on other versions are moved. */
    kind: text('kind', { enum: ['release', 'end', 'move'] }).notNull(),
    person: text('person').notNull(),
    begunAt: instant('begun_at').notNull(),
    /** For `release`: messages whose moment was before this are passed over. */
    skipBefore: instant('skip_before'),
    /** For `move`. */
    toVersion: integer('to_version'),
    /** How many it concerned when it began; how many had their turn, and how many of them nothing could be done with. */
    people: integer('people').notNull(),
    done: integer('done').notNull().default(0),
    stay: integer('stay').notNull().default(0),
    /** The run that had its turn last; turns go by version and id. Runs that came later are not part of it. */
    lastVersion: integer('last_version').notNull().default(0),
    lastRun: instant('last_run').notNull().default(0),
    upToRun: instant('up_to_run').notNull(),
    /** When all had their turn, or another change took its place; null while it goes on. */
    endedAt: instant('ended_at'),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('bulk_changes_open')
      .on(table.shopId, table.workflowId)
      .where(sql`ended_at is null`),
    index('bulk_changes_workflow').on(table.shopId, table.workflowId, table.id),
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
    /** Null for what somebody of the shop did to a person outside of any workflow. */
    workflowId: text('workflow_id'),
    version: integer('version'),
    runId: instant('run_id'),
    customerId: text('customer_id').notNull(),
    subjectId: text('subject_id'),
    kind: text('kind').notNull(),
    /** The decision as the core made it, or what was done. */
    entry: jsonb('entry').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('ledger_run').on(table.shopId, table.runId),
    index('ledger_workflow').on(table.shopId, table.workflowId, table.id),
    index('ledger_kind').on(table.shopId, table.kind, table.id),
    // What is counted by the day on which it happened.
    index('ledger_days')
      .on(table.shopId, table.at)
      .where(sql`kind in ('entered', 'ended', 'left', 'retired', 'sent', 'takenOut')`),
    index('ledger_customer').on(table.shopId, table.customerId, table.id),
  ],
)

/** How far the date trigger of each workflow has looked. */
export const dateSweeps = pgTable(
  'date_sweeps',
  {
    shopId: shopId(),
    workflowId: text('workflow_id').notNull(),
    /** Moments up to and including this one have been looked at. */
    sweptUntil: instant('swept_until').notNull(),
    /** The next moment at which it can go off. */
    nextAt: instant('next_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.workflowId] })],
)
