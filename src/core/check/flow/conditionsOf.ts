import type { Condition } from '../../conditions/condition.ts'
import { blocksOf } from '../../workflow/templates.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps, withLists } from '../../workflow/lists.ts'
import { isBranching, isMessage, type Step } from '../../workflow/steps.ts'
import type { FindingPlace } from '../finding.ts'

/** Every condition of a workflow with its place. */
export function conditionsOf(
  definition: Definition,
): { condition: Condition; place: FindingPlace }[] {
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
      place: { kind: 'branch', branching: step.key, branch: branch.key },
    }))
  }
  if (!isMessage(step)) return []
  const place = { kind: 'step', key: step.key } as const
  const all = [step.onlyIf, ...blocksOf(step).map(({ onlyIf }) => onlyIf)]
  return all.flatMap((condition) => (condition ? [{ condition, place }] : []))
}

/** The definition with each condition of its filter, exclusions, paths and messages changed. */
export function mapConditions(
  definition: Definition,
  change: (condition: Condition) => Condition,
): Definition {
  const { trigger, exclusions, steps } = definition
  return {
    ...definition,
    trigger: trigger.filter ? { ...trigger, filter: change(trigger.filter) } : trigger,
    exclusions: exclusions.map((one) => ({ ...one, when: change(one.when) })),
    steps: mapSteps(steps, change),
  }
}

function mapSteps(steps: readonly Step[], change: (condition: Condition) => Condition): Step[] {
  return steps.map((step): Step => {
    if (isMessage(step)) return step.onlyIf ? { ...step, onlyIf: change(step.onlyIf) } : step
    if (!isBranching(step)) return step
    const inner = withLists(step, (list) => mapSteps(list, change))
    if (inner.kind !== 'split') return inner
    return {
      ...inner,
      branches: inner.branches.map((one) => ({ ...one, when: change(one.when) })),
    }
  })
}
