import { z } from 'zod'
import { EVENT_TYPES, type EventType } from '../events/eventTypes.ts'
import { isCalendarDate, type CalendarDate } from '../shared/localTime.ts'
import { fieldProblem, type FieldCondition } from './fieldProblem.ts'

export type { FieldCondition } from './fieldProblem.ts'

/** How often something is asked for. */
export interface Count {
  op: 'atLeast' | 'atMost' | 'exactly'
  times: number
}

/** The span of time in which past things count. All end at the moment of asking, but the last. */
export type Window =
  | { kind: 'ever' }
  /** Later than the triggering event; that event itself never counts. */
  | { kind: 'sinceEntry' }
  | { kind: 'lastDays'; days: number }
  /** From the first day up to and including the last, by the shop's calendar. */
  | { kind: 'between'; from: CalendarDate; to: CalendarDate }

/** A count of past events: "order refunded, for this order, at least once since entry". */
export interface HistoryCondition {
  kind: 'history'
  event: EventType
  /** `subject`: only events about the thing the run is about; `customer`: any of theirs. */
  about: 'subject' | 'customer'
  count: Count
  window: Window
  /** What the event itself must have been like. Asks about nothing but the event. */
  where?: Condition
}

/**
 * What was ordered. `some`: at least one line is like one of the tests (contains); `every`: each line
 * is (contains only); `none`: no line is; `both`: each test is met by a line of its own or the same.
 */
export interface LinesCondition {
  kind: 'lines'
  /** `subject`: the lines of the order, checkout or basket; `orders`: of all the customer's orders. */
  on: 'subject' | 'orders'
  how: 'some' | 'every' | 'none' | 'both'
  of: Condition[]
}

/** Whether the customer has been in a workflow, or is in it now. */
export interface WorkflowsCondition {
  kind: 'workflows'
  /** The id of a workflow; `this` is the one the condition stands in. */
  workflow: string
  state: 'hasBeen' | 'isIn'
  window: Window
}

/** Whether the customer got, opened or clicked a message. */
export interface MessagesCondition {
  kind: 'messages'
  did: 'got' | 'opened' | 'clicked'
  /** The id of a workflow, `this`, or `any`. */
  workflow: string
  /** The key of a message in that workflow; left out: any. */
  step?: string
  window: Window
}

/** The single tests, which groups are made of. */
export type TestCondition =
  FieldCondition | HistoryCondition | LinesCondition | WorkflowsCondition | MessagesCondition

/**
 * Whether the customer is in a segment. What the segment asks stands in the condition as it was when it was taken over: what is
 * live changes by going live alone, and a document means the same wherever it is read.
 */
export interface SegmentCondition {
  kind: 'segment'
  /** The id of the segment. */
  segment: string
  name: string
  of: Condition
}

export type Condition =
  | { kind: 'all'; of: Condition[] }
  | { kind: 'any'; of: Condition[] }
  | { kind: 'not'; of: Condition }
  | SegmentCondition
  | TestCondition

const moneySchema = z.strictObject({
  amountMinor: z.int(),
  currency: z.string().regex(/^[A-Z]{3}$/),
})
const numberOrMoney = z.union([z.number(), moneySchema])

const operandSchema = z.union([
  z.string().max(500),
  z.boolean(),
  numberOrMoney,
  z.array(z.string().max(500)).max(200),
  z.array(z.int().min(1).max(12)).max(12),
  z.strictObject({ from: numberOrMoney, to: numberOrMoney }),
])

const fieldConditionSchema = z
  .strictObject({
    kind: z.literal('field'),
    field: z.string(),
    op: z.string(),
    value: operandSchema.optional(),
  })
  .superRefine((condition, context) => {
    const problem = fieldProblem(condition)
    if (problem) context.addIssue({ code: 'custom', path: [problem.at], message: problem.message })
  })

const calendarDate = z.string().refine(isCalendarDate, 'must be a date like 2026-05-09')

const windowSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('ever') }),
  z.strictObject({ kind: z.literal('sinceEntry') }),
  z.strictObject({ kind: z.literal('lastDays'), days: z.int().min(1).max(3650) }),
  z.strictObject({ kind: z.literal('between'), from: calendarDate, to: calendarDate }),
])

const countSchema = z.strictObject({
  op: z.enum(['atLeast', 'atMost', 'exactly']),
  times: z.int().min(0).max(10_000),
})

const workflowRef = z.string().min(1).max(100)
const stepRef = z.string().max(40)

/** Inside a test of lines or of a past event only the thing itself can be asked about. */
const plainSchema: z.ZodType<Condition> = z
  .lazy(() =>
    z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('all'), of: z.array(plainSchema).max(20) }),
      z.strictObject({ kind: z.literal('any'), of: z.array(plainSchema).max(20) }),
      z.strictObject({ kind: z.literal('not'), of: plainSchema }),
      fieldConditionSchema as unknown as z.ZodObject,
      z.strictObject({
        kind: z.literal('lines'),
        on: z.literal('subject'),
        how: z.enum(['some', 'every', 'none', 'both']),
        of: z.array(plainSchema).min(1).max(20),
      }),
    ]),
  )
  .meta({ id: 'PlainCondition' }) as unknown as z.ZodType<Condition>

const anyConditionSchema: z.ZodType<Condition> = z
  .lazy(() =>
    z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('all'), of: z.array(anyConditionSchema).max(50) }),
      z.strictObject({ kind: z.literal('any'), of: z.array(anyConditionSchema).max(50) }),
      z.strictObject({ kind: z.literal('not'), of: anyConditionSchema }),
      z.strictObject({
        kind: z.literal('segment'),
        segment: z.string().min(1).max(100),
        name: z.string().min(1).max(80),
        of: anyConditionSchema,
      }),
      fieldConditionSchema as unknown as z.ZodObject,
      z.strictObject({
        kind: z.literal('history'),
        event: z.enum(EVENT_TYPES),
        about: z.enum(['subject', 'customer']),
        count: countSchema,
        window: windowSchema,
        where: plainSchema.optional(),
      }),
      z.strictObject({
        kind: z.literal('lines'),
        on: z.enum(['subject', 'orders']),
        how: z.enum(['some', 'every', 'none', 'both']),
        of: z.array(plainSchema).min(1).max(20),
      }),
      z.strictObject({
        kind: z.literal('workflows'),
        workflow: workflowRef,
        state: z.enum(['hasBeen', 'isIn']),
        window: windowSchema,
      }),
      z.strictObject({
        kind: z.literal('messages'),
        did: z.enum(['got', 'opened', 'clicked']),
        workflow: workflowRef,
        step: stepRef.optional(),
        window: windowSchema,
      }),
    ]),
  )
  .meta({ id: 'AnyCondition' }) as unknown as z.ZodType<Condition>

/** How deep conditions may lie inside each other. */
const MOST_CONDITION_LEVELS = 20

/** The condition language of a workflow document. */
export const conditionSchema: z.ZodType<Condition> = anyConditionSchema.refine(
  (condition) => levelsOf(condition) <= MOST_CONDITION_LEVELS,
  `may hold conditions inside conditions ${MOST_CONDITION_LEVELS} levels deep, and no deeper`,
)

function levelsOf(condition: Condition): number {
  const inside =
    condition.kind === 'lines'
      ? condition.of
      : condition.kind === 'history' && condition.where
        ? [condition.where]
        : partsOf(condition)
  return 1 + inside.reduce((most, part) => Math.max(most, levelsOf(part)), 0)
}

/** The conditions directly inside one: the parts of a group, what a segment asks, and the one a `not` turns round. */
export function partsOf(condition: Condition): Condition[] {
  if (condition.kind === 'all' || condition.kind === 'any') return condition.of
  return condition.kind === 'not' || condition.kind === 'segment' ? [condition.of] : []
}

/** The single tests in a condition, however deep; not those inside a test of lines or events. */
export function testsIn(condition: Condition): TestCondition[] {
  switch (condition.kind) {
    case 'all':
    case 'any':
    case 'not':
    case 'segment':
      return partsOf(condition).flatMap(testsIn)
    case 'field':
    case 'history':
    case 'lines':
    case 'messages':
    case 'workflows':
      return [condition]
  }
}

/** The segments in a condition, however deep. */
export const segmentsIn = (condition: Condition): SegmentCondition[] => [
  ...(condition.kind === 'segment' ? [condition] : []),
  ...partsOf(condition).flatMap(segmentsIn),
]
