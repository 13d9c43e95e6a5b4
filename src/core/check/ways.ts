import type { Condition } from '../conditions/condition.ts'
import { approximateMs, durationParts, type Duration } from '../shared/duration.ts'
import type { Definition } from '../workflow/definition.ts'
import { listsOf } from '../workflow/lists.ts'
import { isFork, type ForkStep, type Step } from '../workflow/steps.ts'

/** A step with what leads to it. */
export interface Reached {
  step: Step
  /** The least time from the start of the run, in milliseconds; rough, for advice alone. */
  afterMs: number
  /** It goes by a date, so the time from the start says nothing. */
  byDate: boolean
  /** What was asked on the way: the filter, the paths, its own condition. */
  asked: readonly Condition[]
}

type Pen = Pick<Reached, 'afterMs' | 'byDate' | 'asked'>

/** Every step of a workflow with the way that leads to it, in reading order. */
export function reachedSteps({ trigger, steps }: Definition): Reached[] {
  const reached: Reached[] = []
  const asked = trigger.filter ? [trigger.filter] : []
  walk(steps, { afterMs: 0, byDate: trigger.kind === 'date', asked }, reached)
  return reached
}

function walk(steps: readonly Step[], begin: Pen, reached: Reached[]): Pen {
  return steps.reduce((pen, step) => {
    const onlyIf = 'onlyIf' in step && step.onlyIf ? [step.onlyIf] : []
    reached.push({ ...pen, step, asked: [...pen.asked, ...onlyIf] })
    if (isFork(step)) return walkFork(step, pen, reached)
    if (step.kind === 'until') return { ...pen, byDate: true }
    return step.kind === 'wait' ? { ...pen, afterMs: pen.afterMs + msOf(step.for) } : pen
  }, begin)
}

/** Goes along each path; what follows can be reached by the shortest of them. */
function walkFork(fork: ForkStep, pen: Pen, reached: Reached[]): Pen {
  const ends = listsOf(fork).map(({ branch, steps }) => {
    const when =
      fork.kind === 'split' ? fork.branches.find(({ key }) => key === branch)?.when : undefined
    const waited = fork.kind === 'waitFor' && branch === null ? msOf(fork.limit) : 0
    const asked = when ? [...pen.asked, when] : pen.asked
    return walk(steps, { ...pen, afterMs: pen.afterMs + waited, asked }, reached)
  })
  return {
    afterMs: Math.min(...ends.map(({ afterMs }) => afterMs)),
    byDate: ends.some(({ byDate }) => byDate),
    asked: pen.asked,
  }
}

const msOf = (duration: Duration): number => approximateMs(durationParts(duration))
