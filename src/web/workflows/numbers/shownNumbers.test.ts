import { expect, test } from 'vitest'
import { anEmail } from '../../../testing/builders.ts'
import type { Step } from '../../../core/workflow/steps.ts'
import { NO_NUMBERS } from '../../testing/listItem.ts'
import { enteredWords, type ShownNumbers } from './shownNumbers.ts'

const NOTE: Step = { key: 'n', kind: 'note', name: 'Call them', to: [], subject: '', body: '' }
const counts = (sent: number) => ({ sent, skipped: 0, left: 0, failed: 0, waiting: 0, done: 0 })

const numbers = (
  entered: number,
  isReplay: boolean,
  sent: Record<string, number>,
): ShownNumbers => ({
  total: { ...NO_NUMBERS, entered, nextDueAt: null },
  steps: Object.entries(sent).map(([step, count]) => ({ step, ...counts(count) })),
  branches: [],
  earned: { steps: [], branches: [] },
  exclusions: [],
  onOlderVersions: 0,
  isReplay,
})

test.each([
  [
    numbers(281, true, { a: 400, b: 246 }),
    [anEmail('a'), anEmail('b')],
    '281 in 90 days, 2.3 messages each',
  ],
  [numbers(40, false, { a: 40 }), [anEmail('a')], '40 so far, 1 message each'],
  // Notes to staff are nothing that a customer gets.
  [numbers(40, false, { a: 20, n: 40 }), [anEmail('a'), NOTE], '40 so far, 0.5 messages each'],
  [numbers(3, false, { n: 3 }), [NOTE], '3 so far'],
  [numbers(0, true, {}), [anEmail('a')], 'nobody in 90 days'],
])('%#: how many entered, and what each gets', (shown, steps, words) => {
  expect(enteredWords(shown, steps)).toBe(words)
})
