import { approximateMs, durationParts, HOUR_MS } from '../../shared/duration.ts'
import type { Definition } from '../../workflow/definition.ts'
import { updateStep } from '../../workflow/edit.ts'
import { allSteps } from '../../workflow/lists.ts'
import type { ExperimentStep, Step, WaitStep } from '../../workflow/steps.ts'
import { advises, type Finding } from '../finding.ts'

/**
 * Arms that differ in more than was meant: where one waits a few hours longer than another, "one day, then
 * 11:00" may fall on another day for it, and the test compares days instead of hours.
 */
export function driftFindings(definition: Definition): Finding[] {
  return allSteps(definition.steps).flatMap((step, index, all) => {
    if (step.kind !== 'experiment' || !haveOtherDelays(step)) return []
    const behind = all.slice(index + 1).filter(drifts)
    const [first] = behind
    if (!first) return []
    const place = { kind: 'step', key: first.key } as const
    const title = `After “${step.name}” this wait can end on another day for each arm.`
    const detail = `Its arms wait differently long, and it goes on at the first ${first.at} once its time has passed. Count by the calendar, so that all get it on the same day.`
    const mend = (before: Definition) =>
      behind.reduce(
        (changed, { key }) =>
          updateStep(changed, key, (one) => (one.kind === 'wait' ? { ...one, onDay: true } : one)),
        before,
      )
    const repair = { label: 'Count by the calendar', mend }
    return [{ ...advises('arms-drift', place, title, detail), repair }]
  })
}

/** True when the first waits of its arms differ by hours, which is what such a test is about. */
function haveOtherDelays({ arms }: ExperimentStep): boolean {
  const delays = arms.flatMap(({ steps, holdout }) => (holdout ? [] : firstDelay(steps)))
  return new Set(delays).size > 1
}

function firstDelay(steps: readonly Step[]): number {
  const [first] = steps
  return first?.kind === 'wait' ? approximateMs(durationParts(first.for)) : 0
}

const drifts = (step: Step): step is WaitStep =>
  step.kind === 'wait' &&
  step.at !== undefined &&
  !step.onDay &&
  approximateMs(durationParts(step.for)) >= 24 * HOUR_MS
