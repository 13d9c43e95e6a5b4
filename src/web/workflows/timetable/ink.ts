import type { Item, Timetable } from '../../../core/timetable/layout.ts'

/** The ink of a row's path. */
export function inkOf(row: number): string {
  return `var(--ink-${row % 6})`
}

export const SHARED_INK = 'var(--color-secondary)'

/** The ink of what belongs to one path; what several share has none of theirs. */
export function inkFor({ rowFrom, shared }: Item, { rows }: Timetable): string {
  return shared || rows.length === 1 ? SHARED_INK : inkOf(rowFrom)
}
