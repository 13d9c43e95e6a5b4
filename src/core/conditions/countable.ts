import { testsIn, type Condition } from './condition.ts'

/**
 * True for a condition that can be asked of the past at the moment of an event: nothing has happened
 * since entry there yet, and no message had been sent.
 */
export function isCountable(condition: Condition): boolean {
  return testsIn(condition).every(
    (test) =>
      test.kind !== 'workflows' &&
      test.kind !== 'messages' &&
      (test.kind !== 'history' || test.window.kind !== 'sinceEntry'),
  )
}
