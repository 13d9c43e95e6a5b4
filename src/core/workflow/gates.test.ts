import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, at, happened, START } from '../../testing/builders.ts'
import { facts, past } from '../../testing/coreFacts.ts'
import { DAY_MS, HOUR_MS } from '../shared/duration.ts'
import { compileProgram, type MessageInstruction } from './compile.ts'
import type { Definition } from './definition.ts'
import { gatesFor } from './gates.ts'
import { isHeldOut } from './shopHoldout.ts'
import type { EmailStep } from './steps.ts'

type Over = Parameters<typeof facts>[0]

/** What the gates say of one mail. */
function gates(over: Over, mail: Partial<EmailStep> = {}, rest: Partial<Definition> = {}) {
  const steps = [anEmail('m', { purpose: 'marketing', ...mail })]
  const program = compileProgram(aDefinition({ steps, ...rest }))
  const run = { enteredAt: START, since: START, skipNext: false, skipBefore: null, hours: null }
  return gatesFor(program, program.instructions.get('m') as MessageInstruction, run, facts(over))
}

const got = (time: number, over: object = {}) => ({
  runId: 9,
  workflowId: 'w9',
  step: 'x',
  at: time,
  marketing: true,
  openedAt: null,
  clickedAt: null,
  ...over,
})

describe('the message gap', () => {
  const shop = { messageGap: 'PT20H' }
  const last = START
  const opens = START + 20 * HOUR_MS

  test.each(['hold', 'skip'] as const)('is over at its very end (%s)', (onGap) => {
    const asked = (now: number) => gates({ now, shop, messages: [got(last)] }, { onGap })
    expect(asked(opens - 1).kind).toBe(onGap)
    expect(asked(opens).kind).toBe('pass')
  })
  test('counts from the last marketing message, whatever else they got', () => {
    const messages = [got(last - DAY_MS), got(last), got(last + 5 * HOUR_MS, { marketing: false })]
    expect(gates({ now: opens - 1, shop, messages })).toMatchObject({ hold: { until: opens } })
    expect(gates({ now: opens, shop, messages }).kind).toBe('pass')
  })
  test('holds also where there are quiet hours', () => {
    const both = { ...shop, quietHours: { from: '21:00', to: '08:00' } }
    expect(gates({ now: START + HOUR_MS, shop: both, messages: [got(last)] })).toMatchObject({
      hold: { until: opens, reason: { code: 'gap' } },
    })
  })
})

describe('quiet hours', () => {
  const shop = { quietHours: { from: '21:00', to: '08:00' } }
  const inTokyo = (text: string) => gates({ now: at(text), shop, customer: { zone: 'Asia/Tokyo' } })

  test('are those where the recipient lives', () => {
    // Nine hours ahead of UTC; in Lisbon it is the middle of the day.
    expect(inTokyo('2026-04-14T11:59:00Z').kind).toBe('pass')
    expect(inTokyo('2026-04-14T12:00:00Z')).toMatchObject({
      hold: { until: at('2026-04-14T23:00:00Z'), reason: { code: 'quietHours' } },
    })
  })
  test('do not hold what belongs to an order', () => {
    const now = at('2026-04-14T23:30:00Z')
    expect(gates({ now, shop }, { purpose: 'transactional' }).kind).toBe('pass')
  })
})

describe('sent before', () => {
  test('is the same step in the same run, and nothing else', () => {
    const asked = (over: object) => gates({ messages: [got(START, over)] }).kind
    expect(asked({ runId: 1, step: 'm' })).toBe('skip')
    expect(asked({ runId: 1, step: 'other' })).toBe('pass')
    expect(asked({ runId: 2, step: 'm' })).toBe('pass')
  })
})

describe('exclusions', () => {
  const leave = { key: 'refund', when: happened('order.refunded'), effect: 'leave' } as const
  const skip = { key: 'cancel', when: happened('order.cancelled'), effect: 'skip' } as const
  const both: Over = {
    now: START + HOUR_MS,
    history: [past('order.refunded', START + 1), past('order.cancelled', START + 1)],
  }

  test('are asked in their order, and the first that holds says what happens', () => {
    expect(gates(both, {}, { exclusions: [skip, leave] })).toMatchObject({
      kind: 'skip',
      reason: { code: 'exclusion', exclusion: 'cancel' },
    })
    expect(gates(both, {}, { exclusions: [leave, skip] })).toMatchObject({
      kind: 'leave',
      held: { exclusion: { key: 'refund' } },
    })
  })
  test('are asked before the message’s own condition', () => {
    const onlyIf = happened('order.paid')
    expect(gates(both, { onlyIf }, { exclusions: [leave] }).kind).toBe('leave')
    expect(gates(both, { onlyIf })).toMatchObject({ kind: 'skip', reason: { code: 'onlyIf' } })
  })
})

describe('the holdout of the shop', () => {
  const all = { percent: 100, since: START }

  test('holds marketing back from its first moment on, and nothing else', () => {
    const asked = (now: number, mail: Partial<EmailStep> = {}) =>
      gates({ now, shop: { holdout: all } }, mail)
    expect(asked(START)).toMatchObject({ kind: 'skip', reason: { code: 'holdout' } })
    expect(asked(START - 1).kind).toBe('pass')
    expect(asked(START, { purpose: 'transactional' }).kind).toBe('pass')
  })
  test('is asked last, so that both sides count from the same moment', () => {
    const shop = { holdout: all, messageGap: 'PT20H' }
    expect(gates({ shop, messages: [got(START)] })).toMatchObject({ kind: 'hold' })
    expect(gates({ shop, channels: { email: { consent: false } } })).toMatchObject({
      reason: { code: 'noConsent' },
    })
  })
  test('holds out as many as it says', () => {
    const people = Array.from({ length: 4000 }, (_, index) => `c${index}`)
    const held = people.filter((id) =>
      isHeldOut({ percent: 10, since: 0 }, { id, lists: [] }, 1),
    ).length
    // Within five standard deviations of 400.
    expect(Math.abs(held - 400)).toBeLessThan(95)
  })
})
