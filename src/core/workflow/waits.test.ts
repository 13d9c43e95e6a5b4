import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, at, happened, START, wait } from '../../testing/builders.ts'
import { facts, past } from '../../testing/coreFacts.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../shared/duration.ts'
import { advance } from './advance.ts'
import { compileProgram } from './compile.ts'
import type { Definition } from './definition.ts'
import { freshRun } from './runState.ts'
import type { Step } from './steps.ts'

type Over = Parameters<typeof facts>[0]
type Looked = { at: number; over?: Over }

/** Takes a run on at each of some moments; returns where it stands then, and what was decided. */
function lookedAt(steps: Definition['steps'], moments: readonly Looked[], entered = START) {
  const program = compileProgram(aDefinition({ steps }))
  let run = freshRun(program, entered)
  const decisions = moments.flatMap(({ at: now, over }) => {
    const taken = advance(program, run, facts({ now, ...over }))
    run = taken.next
    return taken.decisions
  })
  return { run, decisions }
}

describe('a wait for an event', () => {
  const untilPaid: Step = {
    key: 'paid',
    kind: 'waitFor',
    event: 'order.paid',
    about: 'subject',
    limit: 'P2D',
    came: [wait('after', 'PT1H'), anEmail('thanks')],
    otherwise: [wait('later', 'PT3H'), anEmail('reminder')],
  }
  const paidAt = (...times: number[]): Over => ({
    history: times.map((time) => past('order.paid', time)),
  })

  test('goes on from the event', () => {
    const came = START + 5 * HOUR_MS
    const { run } = lookedAt(
      [untilPaid],
      [{ at: START }, { at: came + 10 * MINUTE_MS, over: paidAt(came) }],
    )
    expect(run).toMatchObject({ step: 'after', dueAt: came + HOUR_MS })
  })
  test('of one that came before the wait began, goes on from the wait', () => {
    const began = START + DAY_MS
    const { run, decisions } = lookedAt(
      [wait('first', 'P1D'), untilPaid],
      [{ at: START }, { at: began, over: paidAt(START + HOUR_MS) }],
    )
    expect(decisions).toContainEqual(expect.objectContaining({ kind: 'came', cameAt: START + HOUR_MS })) // prettier-ignore
    expect(run).toMatchObject({ step: 'after', dueAt: began + HOUR_MS })
  })
  test('takes the first of several', () => {
    const { decisions } = lookedAt(
      [untilPaid],
      [{ at: START }, { at: START + DAY_MS, over: paidAt(START + 3 * HOUR_MS, START + HOUR_MS, START + 2 * HOUR_MS) }], // prettier-ignore
    )
    expect(decisions).toContainEqual(expect.objectContaining({ kind: 'came', cameAt: START + HOUR_MS })) // prettier-ignore
  })
  test('counts what comes at the very end of its limit, and not what started the run', () => {
    const end = START + 2 * DAY_MS
    const cameAt = (time: number) =>
      lookedAt([untilPaid], [{ at: START }, { at: end, over: paidAt(time) }]).decisions.find(
        (one) => one.kind === 'came',
      )
    expect(cameAt(end)).toMatchObject({ cameAt: end })
    expect(cameAt(START)).toMatchObject({ cameAt: null })
  })
  test('that did not come, goes on from its limit, however late it is looked at', () => {
    const { run } = lookedAt([untilPaid], [{ at: START }, { at: START + 2 * DAY_MS + HOUR_MS }])
    expect(run).toMatchObject({ step: 'later', dueAt: START + 2 * DAY_MS + 3 * HOUR_MS })
  })
})

describe('a wait until a fixed date', () => {
  test('goes by the shop’s calendar, wherever the recipient lives', () => {
    const until = { key: 'may', kind: 'until', until: { kind: 'fixed', date: '2026-05-09', at: '10:00' }, ifPast: 'goOn' } as const // prettier-ignore
    const over: Over = { customer: { zone: 'Asia/Tokyo' } }
    // The shop is in Lisbon, an hour ahead of UTC in May.
    expect(lookedAt([until], [{ at: START, over }]).run).toMatchObject({
      dueAt: at('2026-05-09T09:00:00Z'),
      awaits: null,
    })
  })
})

describe('a wait until a date of the thing itself', () => {
  const day = { key: 'day', kind: 'until', ifPast: 'skipNext' } as const
  const booked = (offset: string) => ({
    ...day,
    until: { kind: 'field', field: 'order.placedAt', offset: { direction: 'after', duration: offset } }, // prettier-ignore
  }) as const // prettier-ignore
  const placedAt = (time: number | null): Over => ({ order: { placedAt: time } })

  test('reached on its very moment is not past, and says so', () => {
    const { run, decisions } = lookedAt([booked('P1D'), anEmail('m')], [{ at: START + DAY_MS }])
    expect(decisions.map(({ kind }) => kind)).toEqual(['waits', 'sends', 'ended'])
    expect(run.skipNext).toBe(false)
  })
  test('a moment that came while it was waited for is not past, though it is looked at late', () => {
    const { decisions } = lookedAt(
      [booked('P1D'), anEmail('m')],
      [{ at: START }, { at: START + DAY_MS + HOUR_MS }],
    )
    expect(decisions.map(({ kind }) => kind)).toEqual(['waits', 'sends', 'ended'])
  })
  test('one that is past skips the next message, also over another such wait that goes on', () => {
    const { decisions } = lookedAt(
      [
        booked('PT1H'),
        { ...booked('PT2H'), key: 'other', ifPast: 'goOn' },
        anEmail('one'),
        anEmail('two'),
      ],
      [{ at: START + DAY_MS }],
    )
    expect(decisions.map((one) => `${one.kind} ${'step' in one ? one.step : ''}`)).toEqual([
      'datePast day',
      'datePast other',
      'skipped one',
      'sends two',
      'ended null',
    ])
  })
  test('what is skipped because a date is past leaves the rhythm of the others as it was', () => {
    // Both waits before the message are over; the next counts from where they left it, not from now.
    const now = START + 5 * DAY_MS
    const { run } = lookedAt(
      [booked('P1D'), anEmail('one'), wait('w', 'P1D'), anEmail('two')],
      [{ at: now, over: placedAt(START) }],
    )
    expect(run).toMatchObject({ step: 'w', dueAt: now + DAY_MS })
  })
})

describe('the rhythm of the messages', () => {
  const steps = [wait('w', 'P1D'), anEmail('one'), wait('w2', 'P1D'), anEmail('two')]
  const program = (over: Partial<Definition> = {}) =>
    compileProgram(aDefinition({ steps, ...over }))
  const due = START + DAY_MS
  const late = due + 6 * HOUR_MS

  test('counts from the message, or from where it was skipped', () => {
    const only = anEmail('one', { onlyIf: happened('order.refunded') })
    for (const first of [anEmail('one'), only]) {
      const own = program({ steps: [wait('w', 'P1D'), first, wait('w2', 'P1D'), anEmail('two')] })
      const { next } = advance(own, { ...freshRun(own, START), dueAt: due }, facts({ now: late }))
      expect(next.dueAt).toBe(late + DAY_MS)
    }
  })
  test('one that is too late leaves it as it was; at the moment itself it is not too late', () => {
    const own = program()
    const resumed = (skipBefore: number) =>
      advance(own, { ...freshRun(own, START), dueAt: due, skipBefore }, facts({ now: late }))
    const after = resumed(due + 1)
    expect(after.decisions[0]).toMatchObject({ kind: 'skipped', reason: { code: 'tooLate' } })
    expect(after.next).toMatchObject({ step: 'w2', dueAt: due + DAY_MS })
    expect(resumed(due).decisions[0]).toMatchObject({ kind: 'sends' })
  })
})
