import { testsIn, type Condition, type TestCondition } from '../conditions/condition.ts'
import { findField } from '../conditions/fields.ts'
import { findOperator } from '../conditions/operators.ts'
import { subjectKindOf } from '../events/eventTypes.ts'
import { blocksOf } from '../messages/templates.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { isMessage, type Step } from '../workflow/steps.ts'
import { canFill, subjectOf, type Trigger } from '../workflow/trigger.ts'
import { stops, type Finding, type FindingPlace } from './finding.ts'

/** Conditions that cannot do what they were meant to: unfinished, or about what is not there. */
export function conditionFindings(definition: Definition): Finding[] {
  return [...incompleteFindings(definition), ...notThereFindings(definition)]
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

/** What a test is about and a trigger does not bring, or null. */
function missingIn(test: TestCondition, trigger: Trigger): string | null {
  if (test.kind === 'field') {
    const about = findField(test.field)?.about
    return about === undefined || canFill(trigger, about) ? null : about
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

/** Every condition of a workflow with its place. */
function conditionsOf(definition: Definition): { condition: Condition; place: FindingPlace }[] {
  const { trigger, exclusions, steps } = definition
  return [
    ...(trigger.filter ? [{ condition: trigger.filter, place: { kind: 'trigger' } as const }] : []),
    ...exclusions.map(({ when }) => ({ condition: when, place: { kind: 'exclusions' } as const })),
    ...allSteps(steps).flatMap(conditionsOfStep),
  ]
}

function conditionsOfStep(step: Step): { condition: Condition; place: FindingPlace }[] {
  if (step.kind === 'split') {
    return step.branches.map((branch) => ({
      condition: branch.when,
      place: { kind: 'branch', fork: step.key, branch: branch.key },
    }))
  }
  if (!isMessage(step)) return []
  const place = { kind: 'step', key: step.key } as const
  const all = [step.onlyIf, ...blocksOf(step).map(({ onlyIf }) => onlyIf)]
  return all.flatMap((condition) => (condition ? [{ condition, place }] : []))
}

function isIncomplete(test: TestCondition): boolean {
  if (test.kind !== 'field') return false
  const type = findField(test.field)?.type
  if (!type || findOperator(type, test.op)?.operand === 'none') return false
  return test.value === '' || (Array.isArray(test.value) && test.value.length === 0)
}
