import { bigserial, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import type { ExperimentReport } from '../../contract/experiments.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { instant, shopId } from '../platform/columns.ts'
import type { DayCounts } from './results/dayCounts.ts'

/** Somebody's wish that a draft, as it is, go live. */
export interface AskedLive {
  revision: number
  userId: string
  name: string
}

export const workflows = pgTable(
  'workflows',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    state: text('state', { enum: ['draft', 'live', 'paused', 'retired'] }).notNull(),
    draft: jsonb('draft').$type<Definition>().notNull(),
    /** Counts saves; a save names the one it is based on, so that nobody's work is overwritten. */
    draftRevision: integer('draft_revision').notNull(),
    liveVersion: integer('live_version'),
    /** Who has asked that a revision of the draft go live, where that takes two. */
    asked: jsonb('asked').$type<AskedLive>(),
    createdAt: instant('created_at').notNull(),
    changedAt: instant('changed_at').notNull(),
    /** Counts workflows as they are made: of the same priority the older goes first, also of one moment. */
    place: bigserial('place', { mode: 'number' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

/** Published states. Rows are never changed. */
export const workflowVersions = pgTable(
  'workflow_versions',
  {
    shopId: shopId(),
    workflowId: text('workflow_id').notNull(),
    version: integer('version').notNull(),
    definition: jsonb('definition').$type<Definition>().notNull(),
    publishedAt: instant('published_at').notNull(),
    publishedBy: text('published_by').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.workflowId, table.version] })],
)

/** When a workflow went live, was paused, resumed or retired: what it was at any moment. Rows are never changed. */
export const workflowStates = pgTable(
  'workflow_states',
  {
    shopId: shopId(),
    workflowId: text('workflow_id').notNull(),
    at: instant('at').notNull(),
    state: text('state', { enum: ['live', 'paused', 'retired'] }).notNull(),
  },
  (table) => [index('workflow_states_workflow').on(table.shopId, table.workflowId, table.at)],
)

/** What was decided of experiments, with the figures of that moment. Rows are never changed. */
export const testDecisions = pgTable(
  'test_decisions',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    workflowId: text('workflow_id').notNull(),
    step: text('step').notNull(),
    decidedAt: instant('decided_at').notNull(),
    decidedBy: text('decided_by').notNull(),
    arm: text('arm').notNull(),
    note: text('note').notNull(),
    report: jsonb('report').$type<ExperimentReport>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('test_decisions_workflow').on(table.shopId, table.workflowId),
  ],
)

/**
 * What came of those who entered a workflow on a day of the shop, within so many days. A day without a row is to be counted; one
 * with a row is as if it had just been.
 */
export const resultDays = pgTable(
  'result_days',
  {
    shopId: shopId(),
    workflowId: text('workflow_id').notNull(),
    windowDays: integer('window_days').notNull(),
    /** When the day begins, and when the next one does. */
    day: instant('day').notNull(),
    until: instant('until').notNull(),
    counts: jsonb('counts').$type<DayCounts>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.workflowId, table.windowDays, table.day] }),
  ],
)

/** Who has a workflow open, window by window. */
export const workflowVisits = pgTable(
  'workflow_visits',
  {
    shopId: shopId(),
    workflowId: text('workflow_id').notNull(),
    /** Names a window of somebody's browser. */
    visit: text('visit').notNull(),
    userId: text('user_id').notNull(),
    /** In real time. */
    seenAt: instant('seen_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.workflowId, table.visit] })],
)
