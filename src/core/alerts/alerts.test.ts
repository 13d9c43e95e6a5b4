import { describe, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../shared/duration.ts'
import { alertsOf, type AlertFacts } from './alerts.ts'

const NOW = Date.UTC(2026, 3, 14, 9)
const WELL: AlertFacts = {
  now: NOW,
  oldestQueuedAt: NOW - MINUTE_MS,
  queued: 3,
  failed: 0,
  lastError: null,
  mails: { sent: 2000, bounced: 40, complained: 2 },
  connections: [],
  workflows: [{ id: 'w', name: 'Care', lastWeek: 1, fourWeeksBefore: 400 }],
}
const codes = (over: Partial<AlertFacts>) => alertsOf({ ...WELL, ...over }).map(({ code }) => code)

test('where all is well nobody is told anything', () => {
  expect(alertsOf(WELL)).toEqual([])
})

describe('messages', () => {
  test('that cannot leave are told of, with why', () => {
    const [alert] = alertsOf({ ...WELL, oldestQueuedAt: NOW - 45 * MINUTE_MS, lastError: 'connect ECONNREFUSED' }) // prettier-ignore
    expect(alert?.says).toBe('3 messages cannot leave, the oldest for 45 minutes. The last said: connect ECONNREFUSED') // prettier-ignore
    expect(codes({ oldestQueuedAt: NOW - 30 * MINUTE_MS })).toEqual([])
  })
  test('that wait for a person are told of', () => {
    expect(codes({ failed: 1 })).toEqual(['failed'])
  })
  test.each([
    ['one complaint of ten mails', { sent: 10, bounced: 0, complained: 1 }, []],
    ['three of a thousand', { sent: 1000, bounced: 0, complained: 3 }, []],
    ['four of a thousand', { sent: 1000, bounced: 0, complained: 4 }, ['complaints']],
    ['six of a hundred back', { sent: 200, bounced: 12, complained: 0 }, ['bounces']],
  ])('%s', (_name, mails, expected) => {
    expect(codes({ mails })).toEqual(expected)
  })
})

describe('a connection', () => {
  const every = (pause: number, last: number, count = 20) =>
    [{ id: 'c', name: 'Web shop', isOn: true, arrivals: Array.from({ length: count }, (_, index) => last - (count - 1 - index) * pause) }] // prettier-ignore
  test.each([
    ['that comes every hour and has not for two days', every(HOUR_MS, NOW - 2 * DAY_MS), ['connectionSilent']],
    ['that comes every hour and has not for twenty', every(HOUR_MS, NOW - 20 * HOUR_MS), []],
    ['that comes every week and has not for two', every(7 * DAY_MS, NOW - 14 * DAY_MS), []],
    ['that came a few times', every(HOUR_MS, NOW - 9 * DAY_MS, 9), []],
    ['that is off', every(HOUR_MS, NOW - 9 * DAY_MS).map((one) => ({ ...one, isOn: false })), []],
  ])('%s', (_name, connections, expected) => {
    expect(codes({ connections })).toEqual(expected)
  }) // prettier-ignore
})

test('a workflow that used to send and stops is told of; one that seldom sends is not', () => {
  const workflow = { id: 'w', name: 'Care', lastWeek: 0 }
  expect(codes({ workflows: [{ ...workflow, fourWeeksBefore: 20 }] })).toEqual(['workflowSilent'])
  expect(codes({ workflows: [{ ...workflow, fourWeeksBefore: 19 }] })).toEqual([])
})
