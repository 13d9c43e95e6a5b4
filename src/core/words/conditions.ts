import type {
  Condition,
  FieldCondition,
  HistoryCondition,
  LinesCondition,
  MessagesCondition,
  Window,
  WorkflowsCondition,
} from '../conditions/condition.ts'
import { findField, type Field } from '../conditions/fields.ts'
import { findOperator, isMoney, type Operand } from '../conditions/operators.ts'
import { EVENT_TYPES, subjectKindOf } from '../events/eventTypes.ts'
import { assertNever } from '../shared/assertNever.ts'
import { formatMoney, type Money } from '../shared/money.ts'
import { dayWords, plural, WEEKDAYS } from './quantities.ts'

/** What words need to know of the shop: its locale, zone, and the titles behind ids. */
export interface WordContext {
  locale: string
  zone: string
  titleOf?: (kind: 'products' | 'workflows' | 'groups', id: string) => string | undefined
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
      return historyWords(condition, context)
    case 'lines':
      return linesWords(condition, context)
    case 'workflows':
      return workflowsWords(condition, context)
    case 'messages':
      return messagesWords(condition, context)
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
  if (condition.op === 'withinLast') {
    return `${field.label} was in the last ${plural(Number(condition.value), 'day')}`
  }
  if (condition.op === 'withinNext') {
    return `${field.label} is in the next ${plural(Number(condition.value), 'day')}`
  }
  const label = findOperator(field.type, condition.op)?.label ?? condition.op
  const operand = operandWords(field, condition.value, context)
  return [field.label, label, operand].filter((part) => part !== '').join(' ')
}

/** The operand of a condition, or a value that was observed, for a reader. */
export function operandWords(field: Field, value: Operand, context: WordContext): string {
  if (value === undefined) return ''
  if (Array.isArray(value)) {
    return value.map((one: string | number) => scalarWords(field, one, context)).join(', ')
  }
  if (typeof value === 'object' && 'from' in value) {
    return `${scalarWords(field, value.from, context)} and ${scalarWords(field, value.to, context)}`
  }
  return scalarWords(field, value as string | number | boolean | Money, context)
}

function scalarWords(
  field: Field,
  value: string | number | boolean | Money,
  context: WordContext,
): string {
  if (isMoney(value)) return formatMoney(value, context.locale)
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (field.type === 'date') {
    return typeof value === 'number' ? (WEEKDAYS[value - 1] ?? String(value)) : dayWords(value)
  }
  return typeof value === 'number' ? String(value) : textWords(field, value, context)
}

function textWords(field: Field, value: string, context: WordContext): string {
  if (field.choices) return field.choices[value] ?? value
  if (field.values === 'products') return context.titleOf?.('products', value) ?? value
  return value
}

const COUNT_WORDS = { atLeast: 'at least', atMost: 'at most', exactly: 'exactly' } as const

function historyWords(condition: HistoryCondition, context: WordContext): string {
  const { event, about, count, window, where } = condition
  const like = where ? ` (${conditionWords(where, context)})` : ''
  const kind = subjectKindOf(event)
  if (window.kind === 'sinceEntry' && count.op === 'atLeast' && count.times === 1) {
    if (kind === 'customer') return `${EVENT_TYPES[event].label}${like} since entry`
    const whose = about === 'subject' ? `this ${kind}` : `any ${kind}`
    return `${whose} ${EVENT_TYPES[event].past}${like} since entry`
  }
  const subject = about === 'subject' ? `, this ${kind},` : ''
  const what = `${EVENT_TYPES[event].label}${like}${subject}`
  if (count.times === 0 && count.op !== 'atLeast') return `no ${what} ${windowWords(window)}`
  const times = count.times === 1 ? 'once' : plural(count.times, 'time')
  return `${what} ${COUNT_WORDS[count.op]} ${times} ${windowWords(window)}`
}

function windowWords(window: Window): string {
  switch (window.kind) {
    case 'ever':
      return 'ever'
    case 'sinceEntry':
      return 'since entry'
    case 'lastDays':
      return `in the last ${plural(window.days, 'day')}`
    case 'between':
      return `from ${dayWords(window.from)} to ${dayWords(window.to)}`
    default:
      return assertNever(window, 'window')
  }
}

/** How the kinds of contents are called, for sentences and the editor. */
export const CONTENTS_WORDS = {
  some: 'contains',
  every: 'contains only',
  none: 'contains none of',
  both: 'contains each of',
} as const satisfies Record<LinesCondition['how'], string>

function linesWords({ on, how, of }: LinesCondition, context: WordContext): string {
  const whose = on === 'subject' ? 'it' : 'what they ever ordered'
  const things = of.map((one) => lineTestWords(one, context))
  const word = how === 'both' ? ' and ' : ' or '
  return `${whose} ${CONTENTS_WORDS[how]} ${things.join(word)}`
}

/** A collection or product is called by its name; any other test of a line by its sentence. */
function lineTestWords(condition: Condition, context: WordContext): string {
  if (condition.kind === 'field' && ['is', 'in', 'hasAny'].includes(condition.op)) {
    const field = findField(condition.field)
    if (field?.values) return operandWords(field, condition.value, context)
  }
  return `a line whose ${conditionWords(condition, context)}`
}

function workflowName(id: string, context: WordContext): string {
  if (id === 'this') return 'this workflow'
  if (id === 'any') return 'any workflow'
  return `“${context.titleOf?.('workflows', id) ?? id}”`
}

function workflowsWords(condition: WorkflowsCondition, context: WordContext): string {
  const name = workflowName(condition.workflow, context)
  if (condition.state === 'isIn') return `is in ${name} now`
  return `has been in ${name} ${windowWords(condition.window)}`
}

function messagesWords(condition: MessagesCondition, context: WordContext): string {
  const { did, workflow, step, window } = condition
  const which = step === undefined ? 'any message' : `the message ${step}`
  const where = workflow === 'any' ? '' : ` of ${workflowName(workflow, context)}`
  return `${did} ${which}${where} ${windowWords(window)}`
}
