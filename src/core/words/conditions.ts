import type { Condition, FieldCondition, HistoryCondition } from '../conditions/condition.ts'
import type { Observation } from '../conditions/compile.ts'
import { findField, type Field, type FieldValue } from '../conditions/fields.ts'
import { findOperator, isMoney, type Operand } from '../conditions/operators.ts'
import { EVENT_TYPES, isOrderEvent } from '../events/eventTypes.ts'
import { assertNever } from '../shared/assertNever.ts'
import { formatMoney, type Money } from '../shared/money.ts'
import { dateWords, plural } from './quantities.ts'

/** What words need to know of the shop: its locale, zone, and the titles behind ids. */
export interface WordContext {
  locale: string
  zone: string
  titleOf?: (kind: 'products', id: string) => string | undefined
}

/** A condition as part of a sentence: "order total is at least €15.00". */
export function conditionWords(condition: Condition, context: WordContext): string {
  switch (condition.kind) {
    case 'all':
      return joined(condition.of, ' and ', context) || 'always'
    case 'any':
      return joined(condition.of, ' or ', context) || 'never'
    case 'not':
      return `not (${conditionWords(condition.of, context)})`
    case 'field':
      return fieldWords(condition, context)
    case 'history':
      return historyWords(condition)
    default:
      return assertNever(condition, 'condition')
  }
}

function joined(parts: Condition[], word: string, context: WordContext): string {
  return parts
    .map((part) => {
      const words = conditionWords(part, context)
      const grouped = (part.kind === 'all' || part.kind === 'any') && part.of.length > 1
      return grouped ? `(${words})` : words
    })
    .join(word)
}

function fieldWords(condition: FieldCondition, context: WordContext): string {
  const field = findField(condition.field)
  if (!field) return `(unknown field ${condition.field})`
  const label = findOperator(field.type, condition.op)?.label ?? condition.op
  const operand = operandWords(field, condition.value, context)
  return [field.label, label, operand].filter((part) => part !== '').join(' ')
}

function operandWords(field: Field, value: Operand, context: WordContext): string {
  if (value === undefined) return ''
  if (typeof value === 'object' && 'from' in value) {
    return `${scalarWords(field, value.from, context)} and ${scalarWords(field, value.to, context)}`
  }
  if (Array.isArray(value)) return value.map((one) => scalarWords(field, one, context)).join(', ')
  return scalarWords(field, value as string | number | boolean | Money, context)
}

function scalarWords(
  field: Field,
  value: string | number | boolean | Money,
  context: WordContext,
): string {
  if (isMoney(value)) return formatMoney(value, context.locale)
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(value)
  if (field.choices) return field.choices[value] ?? value
  if (field.values === 'products') return context.titleOf?.('products', value) ?? value
  return value
}

const COUNT_WORDS = { atLeast: 'at least', atMost: 'at most', exactly: 'exactly' } as const

function historyWords({ event, about, count, window }: HistoryCondition): string {
  if (window.kind === 'sinceEntry' && count.op === 'atLeast' && count.times === 1) {
    if (!isOrderEvent(event)) return `${EVENT_TYPES[event].label} since entry`
    const whose = about === 'subject' ? 'this order' : 'any order'
    return `${whose} ${EVENT_TYPES[event].past} since entry`
  }
  const subject = about === 'subject' ? ', this order,' : ''
  const times = `${COUNT_WORDS[count.op]} ${plural(count.times, 'time')}`
  return `${EVENT_TYPES[event].label}${subject} ${times} ${windowWords(window)}`
}

function windowWords(window: HistoryCondition['window']): string {
  switch (window.kind) {
    case 'ever':
      return 'ever'
    case 'sinceEntry':
      return 'since entry'
    case 'lastDays':
      return `in the last ${plural(window.days, 'day')}`
    default:
      return assertNever(window, 'window')
  }
}

/** The facts behind a decision, in words: "order refunded on 16 April, 09:12". */
export function observationWords(observation: Observation, context: WordContext): string {
  if (observation.kind === 'field') {
    const field = findField(observation.field)
    return `${field?.label ?? observation.field}: ${valueWords(field, observation.value, context)}`
  }
  const { label } = EVENT_TYPES[observation.event]
  if (observation.count === 0 || observation.lastAt === null) return `no ${label}`
  const when = dateWords(observation.lastAt, context.zone)
  if (observation.count === 1) return `${label} on ${when}`
  return `${label} ${plural(observation.count, 'time')}, last on ${when}`
}

function valueWords(field: Field | undefined, value: FieldValue, context: WordContext): string {
  if (value === null) return 'unknown'
  if (!field) return JSON.stringify(value)
  return operandWords(field, value, context) || 'none'
}
