import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import type { ExperimentStep } from '../workflow/steps.ts'
import type { Instant } from '../shared/time.ts'

/** A published state of a workflow. */
export interface PublishedVersion {
  version: number
  publishedAt: Instant
  definition: Definition
}

/** A time in which an experiment parted people in the same way into the same arms. */
export interface TestPeriod {
  /** As the newest of its versions has it. */
  step: ExperimentStep
  versions: number[]
  from: Instant
  /** When a version changed the arms, or took the experiment out; null while it goes on. */
  until: Instant | null
}

/** The experiment at a step of a workflow, if there is one. */
export function experimentAt(definition: Definition, key: string): ExperimentStep | null {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  return step?.kind === 'experiment' ? step : null
}

/**
 * The times of an experiment, the newest first. Whoever changes what an arm gets, or how many get it, begins a new
 * one: people before and after would be compared by different things. Names and the plan change nothing.
 */
export function testPeriods(versions: readonly PublishedVersion[], key: string): TestPeriod[] {
  const periods: TestPeriod[] = []
  let before: ExperimentStep | null = null
  for (const { version, publishedAt, definition } of versions.toSorted(
    (a, b) => a.version - b.version,
  )) {
    const step = experimentAt(definition, key)
    const current = periods[0]
    if (step && before && current && sameTest(step, before)) {
      periods[0] = { ...current, step, versions: [...current.versions, version] }
    } else {
      if (current && current.until === null) periods[0] = { ...current, until: publishedAt }
      if (step) periods.unshift({ step, versions: [version], from: publishedAt, until: null })
    }
    before = step
  }
  return periods
}

/** True where two states of an experiment part people alike and give them the same. */
function sameTest(a: ExperimentStep, b: ExperimentStep): boolean {
  return JSON.stringify(partsOf(a)) === JSON.stringify(partsOf(b))
}

const partsOf = ({ lottery, arms }: ExperimentStep): unknown => [
  lottery,
  arms.map(({ key, weight, holdout = false, steps }) => [key, weight, holdout, steps]),
]
