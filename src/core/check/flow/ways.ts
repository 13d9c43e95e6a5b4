import type { Condition } from '../../conditions/condition.ts'
import { approximateMs, durationParts, type Duration } from '../../shared/duration.ts'
import { remembered } from '../../shared/remembered.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps, listsOf } from '../../workflow/lists.ts'
import {
  isBranching,
  isMessage,
  type BranchingStep,
  type Step,
  type UntilStep,
  type WaitStep,
} from '../../workflow/steps.ts'
import type { Trigger } from '../../workflow/trigger.ts'

/** A step with what leads to it. */
export interface Reached {
  step: Step
  /** The least time from the start of the run, in milliseconds; rough, for advice alone. */
  afterMs: number
  /** It goes by a date, so the time from the start says nothing. */
  byDate: boolean
  /** Two steps of a workflow with the same one come at the same moment. */
  moment: string
  /** Steps of workflows that start together do so too. Not where paths meet that took different times. */
  isExact: boolean
  /** The branching steps it stands inside, each with the branch: what stands in fewer of them is on more ways. */
  path: readonly string[]
  /** What was asked on the way: the filter, the paths, those before them, its own condition. */
  asked: readonly Condition[]
  /** On how many of the ways that lead to it a coupon has been issued. */
  coupon: OnTheWays
}

/** Whether something happens on the ways that lead to a step. */
export type OnTheWays = 'all' | 'some' | 'none'

interface Pen extends Omit<Reached, 'step' | 'moment'> {
  /** What the moment counts from. */
  from: string
  /** How long after that, in milliseconds. */
  sinceMs: number
}

/** Every step that can be reached, with the way that leads to it, in reading order. */
export const reachedSteps = remembered(({ trigger, steps }: Definition): readonly Reached[] => {
  const reached: Reached[] = []
  const begin: Pen = {
    afterMs: 0,
    byDate: trigger.kind === 'date',
    isExact: true,
    from: startOf(trigger),
    sinceMs: 0,
    path: [],
    asked: trigger.filter ? [trigger.filter] : [],
    coupon: 'none',
  }
  walk(steps, begin, reached)
  return reached
})

/** On how many of the ways that lead to a step a coupon has been issued before it. */
export function couponBefore(definition: Definition, key: string): OnTheWays {
  // Asked at every letter of a message, and most workflows issue none.
  if (!allSteps(definition.steps).some(({ kind }) => kind === 'coupon')) return 'none'
  return reachedSteps(definition).find(({ step }) => step.key === key)?.coupon ?? 'none'
}

/** What the moments of workflows that start together count from. */
function startOf(trigger: Trigger): string {
  if (trigger.kind !== 'date') return 'start'
  const { field, direction, days, at, zone } = trigger
  return `${days} days ${direction} ${field} ${at} ${zone}`
}

/** Goes along a list; null when every way in it has ended. */
function walk(steps: readonly Step[], begin: Pen, reached: Reached[]): Pen | null {
  let pen: Pen | null = begin
  for (const step of steps) {
    if (!pen) return null
    reached.push(reachedAt(step, pen))
    pen = after(step, pen, reached)
  }
  return pen
}

function reachedAt(step: Step, { from, sinceMs, ...way }: Pen): Reached {
  const onlyIf = 'onlyIf' in step && step.onlyIf ? [step.onlyIf] : []
  return { ...way, step, moment: `${from} + ${sinceMs}`, asked: [...way.asked, ...onlyIf] }
}

function after(step: Step, pen: Pen, reached: Reached[]): Pen | null {
  if (isBranching(step)) return afterBranching(step, pen, reached)
  if (isMessage(step)) return pen
  switch (step.kind) {
    case 'end':
      return null
    case 'wait':
      return afterWait(step, pen)
    case 'until':
      return { ...pen, byDate: true, isExact: true, from: dateOf(step), sinceMs: 0 }
    case 'coupon':
      return { ...pen, coupon: 'all' }
    case 'hook':
    case 'list':
    case 'property':
    case 'tag':
      return pen
  }
}

function afterWait({ for: duration, at, weekdays, onDay }: WaitStep, pen: Pen): Pen {
  const later = waited(pen, duration)
  if (at === undefined) return later
  const days = weekdays ? ` on ${weekdays.join()}` : ''
  const from = `${later.from} + ${later.sinceMs}, ${onDay ? 'that day ' : ''}${at}${days}`
  return { ...later, from, sinceMs: 0 }
}

function waited(pen: Pen, duration: Duration): Pen {
  const ms = approximateMs(durationParts(duration))
  return { ...pen, afterMs: pen.afterMs + ms, sinceMs: pen.sinceMs + ms }
}

function dateOf({ until }: UntilStep): string {
  if (until.kind === 'fixed') return `${until.date} ${until.at}`
  const { direction, duration } = until.offset
  return `${duration} ${direction} ${until.field} ${until.at ?? ''}`
}

/** Goes along each path; what follows can be reached by the shortest of those that go on. */
function afterBranching(branching: BranchingStep, pen: Pen, reached: Reached[]): Pen | null {
  const ends = listsOf(branching).flatMap(
    ({ branch, steps }) => walk(steps, inside(branching, branch, pen), reached) ?? [],
  )
  const [first, ...others] = ends
  if (!first) return null
  const isOneMoment = others.every(
    (one) => one.from === first.from && one.sinceMs === first.sinceMs,
  )
  return {
    ...(isOneMoment ? first : someTime(first, branching)),
    afterMs: Math.min(...ends.map(({ afterMs }) => afterMs)),
    byDate: ends.some(({ byDate }) => byDate),
    path: pen.path,
    asked: pen.asked,
    coupon: others.every(({ coupon }) => coupon === first.coupon) ? first.coupon : 'some',
  }
}

/** Where a path of a branching step begins. */
function inside(branching: BranchingStep, branch: string | null, pen: Pen): Pen {
  const path = [...pen.path, `${branching.key} ${branch}`]
  if (branching.kind === 'split') {
    // Whoever gets to a path has been asked for those before it as well.
    const until = branching.branches.findIndex(({ key }) => key === branch)
    const tried = until === -1 ? branching.branches : branching.branches.slice(0, until + 1)
    return { ...pen, path, asked: [...pen.asked, ...tried.map(({ when }) => when)] }
  }
  if (branching.kind !== 'waitFor') return { ...pen, path }
  // An awaited event may come at any time up to the limit.
  const began = branch === null ? waited(pen, branching.limit) : someTime(pen, branching)
  return { ...began, path }
}

/** At a moment that is different for each person. */
const someTime = (pen: Pen, branching: BranchingStep): Pen => ({
  ...pen,
  isExact: false,
  from: `after ${branching.key}`,
  sinceMs: 0,
})
