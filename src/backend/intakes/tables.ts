import { boolean, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

/** Letting in those who qualified already when a workflow went live: one decision of a marketer. */
export const intakes = pgTable(
  'intakes',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    workflowId: text('workflow_id').notNull(),
    /** Who decided it. */
    person: text('person').notNull(),
    startedAt: instant('started_at').notNull(),
    perHour: integer('per_hour').notNull(),
    people: integer('people').notNull(),
    entered: integer('entered').notNull().default(0),
    turnedAway: integer('turned_away').notNull().default(0),
    /** When the last was let in, or it was stopped; null while it goes on. */
    endedAt: instant('ended_at'),
    isStopped: boolean('is_stopped').notNull().default(false),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('intakes_workflow').on(table.shopId, table.workflowId),
  ],
)

/** Those who are still to be let in, each with the moment at which it is their turn. */
export const intakePeople = pgTable(
  'intake_people',
  {
    shopId: shopId(),
    intakeId: instant('intake_id').notNull(),
    place: integer('place').notNull(),
    workflowId: text('workflow_id').notNull(),
    customerId: text('customer_id').notNull(),
    subjectId: text('subject_id'),
    line: integer('line'),
    /** Names what brings them, as it would have if the workflow had been live then. */
    idempotencyKey: text('idempotency_key').notNull(),
    eventSeq: instant('event_seq'),
    /** When what brings them was. */
    occasionAt: instant('occasion_at').notNull(),
    /** For triggers by date. */
    date: instant('date'),
    dueAt: instant('due_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.intakeId, table.place] }),
    index('intake_people_due').on(table.shopId, table.dueAt),
  ],
)
