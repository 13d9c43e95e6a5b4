import { describe, expect, test } from 'vitest'
import { aDefinition, happened, on, START } from '../../testing/builders.ts'
import { facts, past } from '../../testing/coreFacts.ts'
import { DAY_MS } from '../shared/duration.ts'
import { compileProgram } from './compile.ts'
import { considerStart, matchesTrigger, type EntryHistory } from './start.ts'

const placed = { at: START, cause: { by: 'event' as const } }
const never: EntryHistory = { lastEnteredAt: null, inProgress: false }
const big = {
  kind: 'field' as const,
  field: 'order.total',
  op: 'gte',
  value: { amountMinor: 10_000, currency: 'EUR' },
}

function consider(
  over: Parameters<typeof aDefinition>[0],
  earlier = never,
  factsOver: Parameters<typeof facts>[0] = {},
) {
  return considerStart(compileProgram(aDefinition(over)), placed, facts(factsOver), earlier)
}

describe('the first thing that fails is the reason', () => {
  test('another event is no start and no turning away', () => {
    const program = compileProgram(aDefinition({ trigger: on('order.paid') }))
    const occasion = { ...placed, type: 'order.placed' as const, change: null }
    expect(matchesTrigger(program, occasion)).toBe(false)
    expect(matchesTrigger(program, { ...occasion, type: 'order.paid' })).toBe(true)
  })
  test('a change of status starts only from and to the statuses that are asked for', () => {
    const matches = (over: object, from: string | null, to: string) =>
      matchesTrigger(
        compileProgram(aDefinition({ trigger: on('subscription.status_changed', over) })),
        { ...placed, type: 'subscription.status_changed', change: { from, to } },
      )
    expect(matches({}, null, 'ended')).toBe(true)
    expect(matches({ from: ['paused'], to: ['ended'] }, 'paused', 'ended')).toBe(true)
    expect(matches({ from: ['paused'], to: ['ended'] }, 'running', 'ended')).toBe(false)
    expect(matches({ from: ['paused'] }, null, 'ended')).toBe(false)
    expect(matches({ to: ['cancelled'] }, 'running', 'ended')).toBe(false)
    expect(matches({ from: [], to: [] }, 'running', 'ended')).toBe(true)
  })
  test('the trigger filter', () => {
    expect(
      consider({ trigger: { kind: 'event', event: 'order.placed', filter: big } }),
    ).toMatchObject({
      kind: 'turnedAway',
      reason: {
        code: 'filter',
        observed: [{ field: 'order.total', value: { amountMinor: 4200 } }],
      },
    })
  })
  test('an event that arrives more than seven days late', () => {
    const arrivesAfter = (days: number) => consider({}, never, { now: START + days * DAY_MS })
    expect(arrivesAfter(7)).toMatchObject({ kind: 'entered', lateMs: 7 * DAY_MS })
    expect(arrivesAfter(7.001)).toMatchObject({
      kind: 'turnedAway',
      reason: { code: 'tooOld', happenedAt: START },
    })
  })
  test('a date is never too old, nor is somebody who is put in by hand', () => {
    const program = compileProgram(aDefinition())
    const late = facts({ now: START + 30 * DAY_MS })
    const causes = [
      { by: 'date', field: 'order.placedAt', date: START },
      { by: 'hand', person: 'Maren', overridden: false },
    ] as const
    for (const cause of causes) {
      expect(considerStart(program, { at: START, cause }, late, never)).toMatchObject({
        kind: 'entered',
      })
    }
  })
  test('by hand the entry rule holds, unless it is overridden', () => {
    const program = compileProgram(
      aDefinition({ entry: { rule: { kind: 'once' }, overlap: 'allow' } }),
    )
    const put = (overridden: boolean) =>
      considerStart(
        program,
        { at: START, cause: { by: 'hand', person: 'Maren', overridden } },
        facts(),
        { lastEnteredAt: START - DAY_MS, inProgress: false },
      )
    expect(put(false)).toMatchObject({ kind: 'turnedAway', reason: { code: 'enteredBefore' } })
    expect(put(true)).toMatchObject({ kind: 'entered' })
  })
  test('filter before entry rule', () => {
    const both = {
      trigger: on('order.placed', { filter: big }),
      entry: { rule: { kind: 'once' as const }, overlap: 'allow' as const },
    }
    expect(consider(both, { lastEnteredAt: START - 1, inProgress: false })).toMatchObject({
      reason: { code: 'filter' },
    })
  })
  test('an exclusion that holds already keeps out; one that only skips does not', () => {
    const exclusion = {
      key: 'x',
      when: { kind: 'field' as const, field: 'customer.country', op: 'is', value: 'PT' },
    }
    expect(consider({ exclusions: [{ ...exclusion, effect: 'leave' }] })).toMatchObject({
      reason: { code: 'exclusion', exclusion: 'x' },
    })
    expect(consider({ exclusions: [{ ...exclusion, effect: 'skip' }] })).toMatchObject({
      kind: 'entered',
    })
  })
  test('what happened before entry does not count as since entry', () => {
    const exclusions = [{ key: 'x', when: happened('order.cancelled'), effect: 'leave' as const }]
    expect(
      consider({ exclusions }, never, { history: [past('order.cancelled', START - 1)] }),
    ).toMatchObject({ kind: 'entered' })
  })
})

describe('entry rules', () => {
  const entry = (rule: object, overlap = 'allow') => ({ entry: { rule, overlap } as never })
  const earlier = (daysAgo: number, inProgress = false) => ({
    lastEnteredAt: START - daysAgo * DAY_MS,
    inProgress,
  })

  test('every time', () => {
    expect(consider(entry({ kind: 'every' }), earlier(0.01, true))).toMatchObject({
      kind: 'entered',
    })
  })
  test('once ever', () => {
    expect(consider(entry({ kind: 'once' }))).toMatchObject({ kind: 'entered' })
    expect(consider(entry({ kind: 'once' }), earlier(900))).toMatchObject({
      reason: { code: 'enteredBefore' },
    })
  })
  test('after 30 days: at that very moment again', () => {
    const rule = entry({ kind: 'after', duration: 'P30D' })
    // Winter time to summer time lies in between: 30 calendar days are an hour short of 30 × 24 h.
    expect(consider(rule, earlier(29))).toMatchObject({ reason: { code: 'enteredTooRecently' } })
    expect(consider(rule, earlier(31))).toMatchObject({ kind: 'entered' })
    const refused = consider(rule, earlier(29))
    const againAt =
      refused?.kind === 'turnedAway' && refused.reason.code === 'enteredTooRecently'
        ? refused.reason.againAt
        : 0
    const program = compileProgram(aDefinition(rule))
    expect(
      considerStart(program, { ...placed, at: againAt }, facts({ now: againAt }), earlier(29)),
    ).toMatchObject({ kind: 'entered' })
    expect(
      considerStart(program, { ...placed, at: againAt - 1 }, facts({ now: againAt }), earlier(29)),
    ).toMatchObject({ kind: 'turnedAway' })
  })
  test('one at a time', () => {
    expect(consider(entry({ kind: 'every' }, 'one'), earlier(1, true))).toMatchObject({
      reason: { code: 'alreadyInProgress' },
    })
    expect(consider(entry({ kind: 'every' }, 'one'), earlier(1, false))).toMatchObject({
      kind: 'entered',
    })
  })
})
