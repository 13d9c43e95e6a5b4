import type { Condition, FieldCondition } from '../conditions/condition.ts'
import { findField } from '../conditions/fields.ts'
import { findOperator } from '../conditions/operators.ts'
import { EVENT_TYPES, isOrderEvent, type EventType } from '../events/eventTypes.ts'
import { assertNever } from '../shared/assertNever.ts'
import { allSteps, type Definition } from '../workflow/definition.ts'
import { stops, type Finding, type FindingPlace } from './finding.ts'

/** Conditions that cannot do what they were meant to: unfinished, or about what is not there. */
export function conditionFindings(definition: Definition): Finding[] {
  return [...incompleteFindings(definition), ...noOrderFindings(definition)]
}

/** Conditions about an order, where the trigger brings none, never hold. */
function noOrderFindings(definition: Definition): Finding[] {
  const { event } = definition.trigger
  if (isOrderEvent(event)) return []
  return conditionsOf(definition).flatMap(({ condition, place }) => {
    if (!testsIn(condition).some(isAboutOrder)) return []
    const title = 'A condition here asks about the order, and there is none.'
    const detail = `When ${EVENT_TYPES[event].happened} there is no order, so it never holds.`
    return [stops('no-order', place, title, detail)]
  })
}

function isAboutOrder(test: Test): boolean {
  if (test.kind === 'history') return test.about === 'subject'
  return findField(test.field)?.about === 'order'
}

function incompleteFindings(definition: Definition): Finding[] {
  return conditionsOf(definition).flatMap(({ condition, place }) =>
    testsIn(condition)
      .filter(isIncomplete)
      .map((test) => {
        const label = 'field' in test ? (findField(test.field)?.label ?? test.field) : ''
        const title = `A condition on ${label} has no value.`
        return stops('incomplete-condition', place, title, 'Choose one, or remove the condition.')
      }),
  )
}

function conditionsOf(definition: Definition): { condition: Condition; place: FindingPlace }[] {
  const { trigger, exclusions, steps } = definition
  const ofSteps = allSteps(steps).flatMap(
    (step): { condition: Condition; place: FindingPlace }[] => {
      if (step.kind === 'email' && step.onlyIf) {
        return [{ condition: step.onlyIf, place: { kind: 'step', key: step.key } }]
      }
      if (step.kind !== 'split') return []
      return step.branches.map((branch) => ({
        condition: branch.when,
        place: { kind: 'branch', split: step.key, branch: branch.key },
      }))
    },
  )
  return [
    ...(trigger.filter ? [{ condition: trigger.filter, place: { kind: 'trigger' } as const }] : []),
    ...exclusions.map(({ when }) => ({ condition: when, place: { kind: 'exclusions' } as const })),
    ...ofSteps,
  ]
}

type Test = Extract<Condition, { kind: 'field' | 'history' }>

/** The single tests in a condition, however deep. */
function testsIn(condition: Condition): Test[] {
  switch (condition.kind) {
    case 'all':
    case 'any':
      return condition.of.flatMap(testsIn)
    case 'not':
      return testsIn(condition.of)
    case 'field':
    case 'history':
      return [condition]
    default:
      return assertNever(condition, 'condition')
  }
}

/** The events a condition asks about. */
export function eventsIn(condition: Condition): EventType[] {
  return testsIn(condition).flatMap((test) => (test.kind === 'history' ? test.event : []))
}

function isIncomplete(test: Test): test is FieldCondition {
  if (test.kind !== 'field') return false
  const type = findField(test.field)?.type
  if (!type || findOperator(type, test.op)?.operand === 'none') return false
  return test.value === '' || (Array.isArray(test.value) && test.value.length === 0)
}
