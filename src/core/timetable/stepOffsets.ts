import { findField } from '../conditions/fields.ts'
import { shortDuration } from '../words/quantities.ts'
import { CAME } from '../workflow/lists.ts'
import type { ForkStep, Step, UntilStep } from '../workflow/steps.ts'
import { anchorLater, atAnchor, laterBy, withinLimit, type Offset } from './offsets.ts'

/** When what follows a step happens. */
export function offsetAfter(offset: Offset, step: Step): Offset {
  if (step.kind === 'until') return atAnchor(offset, anchorWords(step))
  if (step.kind !== 'wait') return offset
  const later = laterBy(offset, step.for, step.at)
  if (offset.anchor === null) return later
  return { ...later, anchor: anchorLater(offset.anchor, step.for) }
}

/** When the steps of one way of a fork begin. */
export function offsetInside(offset: Offset, step: ForkStep, branch: string | null): Offset {
  if (step.kind !== 'waitFor') return offset
  return branch === CAME ? withinLimit(offset, step.limit) : laterBy(offset, step.limit)
}

function anchorWords({ until }: UntilStep): string {
  if (until.kind === 'fixed') return `${until.date}, ${until.at}`
  const label = findField(until.field)?.label ?? until.field
  const clock = until.at === undefined ? '' : `, ${until.at}`
  const { direction, duration } = until.offset
  const span = shortDuration(duration)
  return span === '0' ? `on ${label}${clock}` : `${span} ${direction} ${label}${clock}`
}
