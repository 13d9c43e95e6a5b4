import { testsIn, type Condition, type TestCondition } from '../../conditions/condition.ts'
import { findField, type Field } from '../../conditions/fields.ts'
import { findOperator, isMoney } from '../../conditions/operators.ts'
import { subjectKindOf } from '../../events/eventTypes.ts'
import type { Definition } from '../../workflow/definition.ts'
import { canFill, canKnow, subjectOf, type Trigger } from '../../workflow/trigger.ts'
import { conditionsOf } from './conditionsOf.ts'
import { stops, type Finding } from '../finding.ts'

/** Conditions that cannot do what they were meant to: unfinished, or about what is not there. */
export function conditionFindings(definition: Definition): Finding[] {
  return [
    ...incompleteFindings(definition),
    ...notThereFindings(definition),
    ...twoCurrencyFindings(definition),
  ]
}

/** Conditions about something that the trigger does not bring never hold. */
function notThereFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  return conditionsOf(definition).flatMap(({ condition, place }) => {
    const missing = testsIn(condition).flatMap((test) => missingIn(test, trigger) ?? [])
    return [...new Set(missing)].map((what) => {
      const title = `A condition here asks about the ${what}, and there is none.`
      const detail = `This trigger brings no ${what}, so it never holds.`
      return stops(`no-${what}`, place, title, detail)
    })
  })
}

/** The thing itself where there is none, else what of it is not told. */
const missingWords = ({ about, label }: Field, trigger: Trigger): string =>
  canFill(trigger, about) ? label : about

/** What a test is about and a trigger does not bring, or null. */
function missingIn(test: TestCondition, trigger: Trigger): string | null {
  if (test.kind === 'field') {
    const field = findField(test.field)
    return field === undefined || canKnow(trigger, field) ? null : missingWords(field, trigger)
  }
  if (test.kind === 'history' && test.about === 'subject') {
    const kind = subjectKindOf(test.event)
    return kind === subjectOf(trigger) ? null : kind
  }
  if (test.kind === 'lines' && test.on === 'subject') {
    const hasLines = ['order', 'checkout', 'basket'].includes(subjectOf(trigger))
    return hasLines ? null : 'order'
  }
  return null
}

/** Amounts in two currencies are never compared, so nothing lies between them. */
function twoCurrencyFindings(definition: Definition): Finding[] {
  return conditionsOf(definition).flatMap(({ condition, place }) =>
    everyTestIn(condition)
      .filter(isBetweenCurrencies)
      .slice(0, 1)
      .map(() => {
        const title = 'A condition here asks for an amount between two currencies.'
        return stops('two-currencies', place, title, 'No amount is in both. Give both in one.')
      }),
  )
}

function isBetweenCurrencies(test: TestCondition): boolean {
  if (test.kind !== 'field' || test.op !== 'between') return false
  const { from, to } = test.value as { from: unknown; to: unknown }
  return isMoney(from) && isMoney(to) && from.currency !== to.currency
}

function incompleteFindings(definition: Definition): Finding[] {
  return conditionsOf(definition).flatMap(({ condition, place }) =>
    everyTestIn(condition)
      .filter(isIncomplete)
      .map((test) => {
        const label = test.kind === 'field' ? (findField(test.field)?.label ?? test.field) : ''
        const title = `A condition on ${label} has no value.`
        return stops('incomplete-condition', place, title, 'Choose one, or remove the condition.')
      }),
  )
}

/** The tests of a condition with those inside its tests of lines and events. */
function everyTestIn(condition: Condition): TestCondition[] {
  return testsIn(condition).flatMap((test) => {
    if (test.kind === 'lines') return [test, ...test.of.flatMap(everyTestIn)]
    if (test.kind === 'history' && test.where) return [test, ...everyTestIn(test.where)]
    return [test]
  })
}

function isIncomplete(test: TestCondition): boolean {
  if (test.kind !== 'field') return false
  const type = findField(test.field)?.type
  if (!type || findOperator(type, test.op)?.operand === 'none') return false
  return test.value === '' || (Array.isArray(test.value) && test.value.length === 0)
}
