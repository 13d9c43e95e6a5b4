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
import { subjectKindOf } from '../events/eventTypes.ts'
import { assertNever } from '../shared/assertNever.ts'
import { formatMoney, type Money } from '../shared/money.ts'
import { dayWords, MONTHS, plural, WEEKDAYS, yearDayWords } from './quantities.ts'
import { EVENT_WORDS } from './eventWords.ts'

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
      return notWords(condition.of, context)
    case 'segment':
      return `the customer is in “${condition.name}”`
    case 'field':
      return fieldWords(condition, context, true)
    case 'history':
      return historyWords(condition, context)
    case 'lines':
      return linesWords(condition, context, true)
    case 'workflows':
      return workflowsWords(condition, context, true)
    case 'messages':
      return messagesWords(condition, context)
    default:
      return assertNever(condition, 'condition')
  }
}

/** The opposite of a condition, with its "no" or "not" where one would say it. */
function notWords(condition: Condition, context: WordContext): string {
  switch (condition.kind) {
    case 'not':
      return conditionWords(condition.of, context)
    case 'segment':
      return `the customer is not in “${condition.name}”`
    case 'field':
      return fieldWords(condition, context, false)
    case 'history':
      return noHistoryWords(condition, context)
    case 'lines':
      return linesWords(condition, context, false)
    case 'workflows':
      return workflowsWords(condition, context, false)
    case 'all':
    case 'any':
    case 'messages':
      return `not (${conditionWords(condition, context)})`
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

/** What one says of a person or thing where a field is yes, and where it is no. */
export const YES_NO_WORDS: Readonly<Record<string, readonly [string, string]>> = {
  'subscription.automatic': ['renews automatically', 'does not renew automatically'],
  'customer.emailConsent': ['agreed to marketing by email', 'did not agree to marketing by email'],
  'customer.smsConsent': [
    'agreed to marketing by text message',
    'did not agree to marketing by text message',
  ],
}

function fieldWords(condition: FieldCondition, context: WordContext, holds: boolean): string {
  const field = findField(condition.field)
  if (!field) return `(unknown field ${condition.field})`
  const [yes, no] = YES_NO_WORDS[condition.field] ?? []
  if (yes && no && condition.op === 'is') return (condition.value === true) === holds ? yes : no
  const operator = operatorWords(field, condition)
  const operand = countsDays(field, condition.op) ? '' : operandWords(field, condition.value, context) // prettier-ignore
  const said = holds ? operator : opposite(operator)
  return [field.label, said, operand].filter((part) => part !== '').join(' ')
}

function operatorWords(field: Field, { op, value }: FieldCondition): string {
  const label = findOperator(field.type, op)?.label ?? op
  return countsDays(field, op) ? label.replace('days:', plural(Number(value), 'day')) : label
}

/** The number of days stands in the middle of what such an operator says. */
const countsDays = (field: Field, op: string): boolean =>
  findOperator(field.type, op)?.operand === 'days'

const OPPOSITES: Readonly<Record<string, string>> = {
  'is not known': 'is known',
  'include any of': 'include none of',
  'include none of': 'include any of',
  'include all of': 'do not include all of',
  contains: 'does not contain',
  'starts with': 'does not start with',
}

/** What is said where an operator does not hold: "is at least", "is not at least". */
const opposite = (operator: string): string =>
  OPPOSITES[operator] ?? operator.replace(/^(is|was)\b/, '$1 not')

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
  if (field.type === 'yearDay') {
    return typeof value === 'number' ? (MONTHS[value - 1] ?? String(value)) : yearDayWords(value)
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
    if (kind === 'customer') return `${EVENT_WORDS[event].label}${like} since entry`
    const whose = about === 'subject' ? `this ${kind}` : `any ${kind}`
    return `${whose} was ${EVENT_WORDS[event].past}${like} since entry`
  }
  const subject = about === 'subject' ? `, this ${kind},` : ''
  const what = `${EVENT_WORDS[event].label}${like}${subject}`
  if (count.times === 0 && count.op !== 'atLeast') return `no ${what} ${windowWords(window)}`
  const counted = event === 'order.placed' && about === 'customer' ? `ordered${like}` : what
  return `${counted} ${COUNT_WORDS[count.op]} ${timesWords(count.times)} ${windowWords(window)}`
}

function timesWords(times: number): string {
  if (times === 1) return 'once'
  return times === 2 ? 'twice' : `${times} times`
}

/** What is said where something has not happened so often. */
function noHistoryWords(condition: HistoryCondition, context: WordContext): string {
  const { event, about, count, window, where } = condition
  if (count.op !== 'atLeast' || count.times !== 1) {
    return `not (${historyWords(condition, context)})`
  }
  const like = where ? ` (${conditionWords(where, context)})` : ''
  const kind = subjectKindOf(event)
  if (about === 'subject' && kind !== 'customer') {
    return `this ${kind} was not ${EVENT_WORDS[event].past}${like} ${windowWords(window)}`
  }
  return `no ${EVENT_WORDS[event].label}${like} ${windowWords(window)}`
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

const NOT_CONTENTS_WORDS: Readonly<Record<LinesCondition['how'], string>> = {
  some: 'contains none of',
  every: 'does not contain only',
  none: 'contains',
  both: 'does not contain each of',
}

function linesWords({ on, how, of }: LinesCondition, context: WordContext, holds: boolean): string {
  const whose = on === 'subject' ? 'it' : 'what they ever ordered'
  const things = of.map((one) => lineTestWords(one, context))
  const word = how === 'both' ? ' and ' : ' or '
  return `${whose} ${(holds ? CONTENTS_WORDS : NOT_CONTENTS_WORDS)[how]} ${things.join(word)}`
}

/** A category or product is called by its name; any other test of a line by its sentence. */
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

function workflowsWords(
  condition: WorkflowsCondition,
  context: WordContext,
  holds: boolean,
): string {
  const name = workflowName(condition.workflow, context)
  const not = holds ? '' : ' not'
  if (condition.state === 'isIn') return `is${not} in ${name} now`
  return `has${not} been in ${name} ${windowWords(condition.window)}`
}

function messagesWords(condition: MessagesCondition, context: WordContext): string {
  const { did, workflow, step, window } = condition
  const which = step === undefined ? 'any message' : `the message ${step}`
  const where = workflow === 'any' ? '' : ` of ${workflowName(workflow, context)}`
  return `${did} ${which}${where} ${windowWords(window)}`
}
