import type { Definition } from '../workflow/definition.ts'
import { layoutTimetable } from './layout.ts'

/** Roughly how long after entry a step comes, in milliseconds; null where nobody can say. */
export function momentOf(definition: Definition, step: string): number | null {
  const { items, moments } = layoutTimetable(definition)
  const item = items.find(({ key, kind }) => key === step && kind !== 'join')
  return item ? (moments[item.moment]?.afterMs ?? null) : null
}

/** The same for the last thing that a workflow does at a moment that can be told. */
export function lastMoment(definition: Definition): number {
  const { moments } = layoutTimetable(definition)
  return Math.max(0, ...moments.map(({ afterMs }) => afterMs ?? 0))
}
