import {
  isBranching,
  isMessage,
  type Arm,
  type ExperimentStep,
  type Step,
} from '../workflow/steps.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import type { Definition } from '../workflow/definition.ts'

/** Something in which arms differ that may not have been meant. */
export type ArmDrift =
  /** Only these arms give a coupon: they may differ by the money, not by the words. */
  | { code: 'couponInSome'; arms: string[] }
  /** The arms take differently long, and a stop behind them goes by the clock: for some it is another day. */
  | { code: 'laterByClock'; stop: string }
  /** The arms send different numbers of messages. */
  | { code: 'messages'; counts: { arm: string; messages: number }[] }

/** In what the arms of an experiment differ beside what was perhaps meant. A holdout is meant to get nothing. */
export function armDrift(definition: Definition, step: ExperimentStep): ArmDrift[] {
  const arms = step.arms.filter(({ weight, holdout }) => weight > 0 && !holdout)
  return [...couponDrift(arms), ...messageDrift(arms), ...clockDrift(definition, step, arms)]
}

function couponDrift(arms: readonly Arm[]): ArmDrift[] {
  const giving = arms.filter(({ steps }) => allSteps(steps).some(({ kind }) => kind === 'coupon'))
  if (giving.length === 0 || giving.length === arms.length) return []
  return [{ code: 'couponInSome', arms: giving.map(({ key }) => key) }]
}

function messageDrift(arms: readonly Arm[]): ArmDrift[] {
  const counts = arms.map(({ key, steps }) => ({
    arm: key,
    messages: allSteps(steps).filter(isMessage).length,
  }))
  return new Set(counts.map(({ messages }) => messages)).size > 1
    ? [{ code: 'messages', counts }]
    : []
}

/** The first stop by the clock after the experiment, in the list that it stands in. */
function clockDrift(
  definition: Definition,
  step: ExperimentStep,
  arms: readonly Arm[],
): ArmDrift[] {
  const waits = new Set(
    arms.map(({ steps }) => JSON.stringify(steps.filter(isWait).map(durationOf))),
  )
  if (waits.size < 2) return []
  const list = listWith(definition.steps, step.key) ?? []
  const behind = list.slice(list.findIndex(({ key }) => key === step.key) + 1)
  const stop = behind.find((one) => one.kind === 'wait' && one.at !== undefined)
  return stop ? [{ code: 'laterByClock', stop: stop.key }] : []
}

const isWait = (step: Step): boolean => step.kind === 'wait' || step.kind === 'until'
const durationOf = (step: Step): unknown => (step.kind === 'wait' ? [step.for, step.at ?? null] : step) // prettier-ignore

function listWith(steps: readonly Step[], key: string): readonly Step[] | null {
  if (steps.some((one) => one.key === key)) return steps
  for (const step of steps) {
    if (!isBranching(step)) continue
    for (const inner of listsOf(step)) {
      const found = listWith(inner.steps, key)
      if (found) return found
    }
  }
  return null
}
