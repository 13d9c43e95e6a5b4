import { findField } from '../conditions/fields.ts'
import { remembered } from '../shared/remembered.ts'
import type { Duration } from '../shared/duration.ts'
import type { TimeOfDay } from '../shared/localTime.ts'
import { dayWords, shortDuration } from '../words/quantities.ts'
import { CAME } from '../workflow/lists.ts'
import type { BranchingStep, Step, UntilStep, WaitStep } from '../workflow/steps.ts'
import type { Trigger } from '../workflow/trigger.ts'
import {
  anchorLater,
  AT_ONCE,
  atAnchor,
  laterBy,
  offsetWords,
  withinLimit,
  type Offset,
} from './offsets.ts'

/** The heading of the column at which a workflow starts: "at once", "7 d before next payment, 09:00". */
export function startWords(trigger: Trigger): string {
  if (trigger.kind !== 'date') return offsetWords(AT_ONCE)
  const { field, direction, days, at } = trigger
  return besideDateWords(field, direction, `P${days}D`, at)
}

/** When what follows a step happens: the same object each time for a step that stands where it stood. */
export function offsetAfter(offset: Offset, step: Step): Offset {
  if (step.kind === 'until') return afterDate(offset)(step)
  return step.kind === 'wait' ? afterWait(offset)(step) : offset
}

/** When the steps of one way of a branching step begin. */
export function offsetInside(offset: Offset, step: BranchingStep, branch: string | null): Offset {
  if (step.kind !== 'waitFor') return offset
  return branch === CAME ? whenItCame(offset)(step) : whenItDidNot(offset)(step)
}

const afterDate = remembered((offset: Offset) =>
  remembered((step: UntilStep) => atAnchor(offset, anchorWords(step))),
)

const afterWait = remembered((offset: Offset) =>
  remembered((step: WaitStep): Offset => {
    const later = laterBy(offset, step.for, step.at, step.weekdays)
    if (offset.anchor === null) return later
    return { ...later, anchor: anchorLater(offset.anchor, step.for) }
  }),
)

type Limited = Extract<BranchingStep, { kind: 'waitFor' }>

const whenItCame = remembered((offset: Offset) =>
  remembered((step: Limited) => withinLimit(offset, step.limit)),
)

const whenItDidNot = remembered((offset: Offset) =>
  remembered((step: Limited) => laterBy(offset, step.limit)),
)

function anchorWords({ until }: UntilStep): string {
  if (until.kind === 'fixed') return `${dayWords(until.date)}, ${until.at}`
  const { direction, duration } = until.offset
  return besideDateWords(until.field, direction, duration, until.at)
}

function besideDateWords(
  field: string,
  direction: 'before' | 'after',
  duration: Duration,
  at: TimeOfDay | undefined,
): string {
  const label = findField(field)?.label ?? field
  const clock = at === undefined ? '' : `, ${at}`
  const span = shortDuration(duration)
  return span === '0' ? `on ${label}${clock}` : `${span} ${direction} ${label}${clock}`
}
