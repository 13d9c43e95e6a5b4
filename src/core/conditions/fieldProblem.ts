import { isCalendarDate } from '../shared/localTime.ts'
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
  switch (shape) {
    case 'none':
      return value === undefined
    case 'many':
      return Array.isArray(value) && value.every((part) => typeof part === 'string')
    case 'weekdays':
      return isAmong(value, 7)
    case 'months':
      return isAmong(value, 12)
    case 'days':
      return typeof value === 'number' && Number.isInteger(value) && value > 0
    case 'range':
      return isRange(value) && one(value.from, type) && one(value.to, type)
    case 'one':
      return one(value, type)
  }
}

/** Whole numbers from 1 to the most there are. */
const isAmong = (value: Operand, most: number): boolean =>
  Array.isArray(value) &&
  value.every((part) => Number.isInteger(part) && Number(part) >= 1 && Number(part) <= most)

function one(value: Operand, type: string): boolean {
  if (type === 'money') return isMoney(value)
  if (type === 'number') return typeof value === 'number'
  if (type === 'yesNo') return typeof value === 'boolean'
  // A date may be missing while it is typed, as a text may; the go-live check asks for it.
  if (type === 'date') return typeof value === 'string' && (value === '' || isCalendarDate(value))
  return typeof value === 'string'
}

const isRange = (value: Operand): value is { from: number | Money; to: number | Money } =>
  typeof value === 'object' && value !== null && 'from' in value && 'to' in value
