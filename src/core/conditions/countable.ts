import { testsIn, type Condition } from './condition.ts'
import { findField } from './fields.ts'

/** When a condition is asked of the past: as the event happened, or some time after it. */
export type AskedWhen = 'atOnce' | 'later'

/**
 * True for a condition that can be asked of events of the past. At once nothing has happened since
 * entry; later on, nobody knows how the order or subscription stood then. What this workflow would
 * have sent is never known.
 */
export function isCountable(condition: Condition, when: AskedWhen = 'atOnce'): boolean {
  return testsIn(condition).every((test) => {
    switch (test.kind) {
      case 'workflows':
      case 'messages':
        return false
      case 'history':
        return when === 'later' || test.window.kind !== 'sinceEntry'
      case 'field':
        return when === 'atOnce' || !changesLater(test.field)
      case 'lines':
        return true
    }
  })
}

/** Statuses and dates of what the workflow is about move on. */
function changesLater(key: string): boolean {
  const field = findField(key)
  if (!field || field.about === 'customer') return false
  return key.endsWith('.status') || field.type === 'date'
}
