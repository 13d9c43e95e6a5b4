import { momentOf } from '../../../../core/timetable/momentOf.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'

/** When a condition at a step is asked, for counting of whom it would have held. */
export function askedAt(definition: Definition, step: string) {
  const afterMs = momentOf(definition, step)
  return afterMs === 0 ? { afterMs } : { afterMs, said: 'At its moment it would have held' }
}
