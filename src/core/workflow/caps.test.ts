import { expect, test } from 'vitest'
import type { PastMessage } from '../events/facts.ts'
import { DAY_MS } from '../shared/duration.ts'
import { cappedBy } from './caps.ts'

const NOW = 100 * DAY_MS
const sent = (daysAgo: number, channel: 'email' | 'sms' = 'email', marketing = true): PastMessage => ({
  workflowId: 'w', runId: 1, step: 's', at: NOW - daysAgo * DAY_MS, marketing, channel, openedAt: null, clickedAt: null,
}) // prettier-ignore

test('a message counts until exactly its days are over', () => {
  const caps = [{ channel: 'all', most: 1, days: 3 }] as const
  expect(cappedBy(caps, [sent(3)], 'email', NOW)).toBeNull()
  expect(cappedBy(caps, [sent(2)], 'email', NOW)?.opensAt).toBe(NOW + DAY_MS)
})

test('the cap that opens last counts; others than marketing, and other channels, do not', () => {
  const caps = [
    { channel: 'email', most: 2, days: 7 },
    { channel: 'all', most: 3, days: 30 },
  ] as const
  const messages = [sent(1), sent(2, 'sms'), sent(6), sent(1, 'email', false)]
  expect(cappedBy(caps, messages, 'email', NOW)).toEqual({ cap: caps[1], opensAt: NOW + 24 * DAY_MS })
  expect(cappedBy([caps[0]], messages, 'email', NOW)?.opensAt).toBe(NOW + DAY_MS)
  expect(cappedBy([caps[0]], messages, 'sms', NOW)).toBeNull()
}) // prettier-ignore
