import { z } from 'zod'
import { EVENT_TYPE_NAMES, type EventType } from '../events/eventTypes.ts'
import type { Money } from '../shared/money.ts'
import { findField } from './fields.ts'
import { findOperator, isMoney, type Operand, type OperandShape } from './operators.ts'

/** A test of one field against an operand. */
export interface FieldCondition {
  kind: 'field'
  field: string
  op: string
  value?: Operand
}

/** The span of time in which past events count. All spans end at the moment of asking. */
export type HistoryWindow =
  | { kind: 'ever' }
  /** Later than the triggering event; that event itself never counts. */
  | { kind: 'sinceEntry' }
  | { kind: 'lastDays'; days: number }

/** A count of past events: "order refunded, for this order, at least once since entry". */
export interface HistoryCondition {
  kind: 'history'
  event: EventType
  /** `subject`: only events about the order the run is about; `customer`: any of theirs. */
  about: 'subject' | 'customer'
  count: { op: 'atLeast' | 'atMost' | 'exactly'; times: number }
  window: HistoryWindow
}

export type Condition =
  | { kind: 'all'; of: Condition[] }
  | { kind: 'any'; of: Condition[] }
  | { kind: 'not'; of: Condition }
  | FieldCondition
  | HistoryCondition

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

const windowSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('ever') }),
  z.strictObject({ kind: z.literal('sinceEntry') }),
  z.strictObject({ kind: z.literal('lastDays'), days: z.int().min(1).max(3650) }),
])

const historyConditionSchema = z.strictObject({
  kind: z.literal('history'),
  event: z.enum(EVENT_TYPE_NAMES),
  about: z.enum(['subject', 'customer']),
  count: z.strictObject({
    op: z.enum(['atLeast', 'atMost', 'exactly']),
    times: z.int().min(0).max(10_000),
  }),
  window: windowSchema,
})

/** The condition language of a workflow document. */
export const conditionSchema: z.ZodType<Condition> = z.lazy(() =>
  z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('all'), of: z.array(conditionSchema).max(50) }),
    z.strictObject({ kind: z.literal('any'), of: z.array(conditionSchema).max(50) }),
    z.strictObject({ kind: z.literal('not'), of: conditionSchema }),
    fieldConditionSchema as unknown as z.ZodObject,
    historyConditionSchema,
  ]),
) as unknown as z.ZodType<Condition>

/** What is wrong with a field condition by the catalogue, or null. */
export function fieldProblem(
  condition: FieldCondition,
): { at: 'field' | 'op' | 'value'; message: string } | null {
  const field = findField(condition.field)
  if (!field) return { at: 'field', message: `there is no field "${condition.field}"` }
  const operator = findOperator(field.type, condition.op)
  if (!operator) {
    return { at: 'op', message: `"${condition.op}" cannot be asked of ${field.label}` }
  }
  if (!fits(condition.value, operator.operand, field.type)) {
    return { at: 'value', message: `is not a value to compare ${field.label} with` }
  }
  if (field.choices && operator.operand !== 'none') {
    const asked = [condition.value].flat() as string[]
    const unknown = asked.find((value) => !(value in (field.choices ?? {})))
    if (unknown !== undefined)
      return { at: 'value', message: `${field.label} is never "${unknown}"` }
  }
  return null
}

function fits(value: Operand, shape: OperandShape, type: string): boolean {
  if (shape === 'none') return value === undefined
  if (shape === 'many') return Array.isArray(value)
  if (shape === 'range') return isRange(value) && one(value.from, type) && one(value.to, type)
  return one(value, type)
}

function one(value: Operand, type: string): boolean {
  if (type === 'money') return isMoney(value)
  if (type === 'number') return typeof value === 'number'
  if (type === 'yesNo') return typeof value === 'boolean'
  return typeof value === 'string'
}

const isRange = (value: Operand): value is { from: number | Money; to: number | Money } =>
  typeof value === 'object' && value !== null && 'from' in value && 'to' in value
