import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { definitions } from '../../testing/model/arbitraries.ts'
import {
  aDefinition,
  anEmail,
  at,
  end,
  happened,
  START,
  thanksDefinition,
  wait,
} from '../../testing/builders.ts'
import { facts, past } from '../../testing/coreFacts.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../shared/duration.ts'
import { advance } from './advance.ts'
import { freshRun, type RunState } from './runState.ts'
import { compileProgram, type Program } from './compile.ts'
import type { Decision } from './decision.ts'
import { definitionSchema, type Definition } from './definition.ts'

type FactsOver = Parameters<typeof facts>[0]

/** Takes a run to its end, jumping the clock to each due time. */
function runThrough(definition: Definition, factsAt: (now: number) => FactsOver = () => ({})) {
  const program = compileProgram(definition)
  const log: { at: number; decision: Decision }[] = []
  let run = freshRun(program, START)
  let now = START
  for (let round = 0; run.status === 'inProgress' && round < 500; round += 1) {
    const { decisions, next } = advance(program, run, facts({ ...factsAt(now), now }))
    log.push(...decisions.map((decision) => ({ at: now, decision })))
    run = next
    if (run.dueAt !== null) now = run.dueAt
  }
  return { log, run, kinds: log.map(({ decision }) => decision.kind) }
}

describe('one run', () => {
  test('waits exactly, sends, ends', () => {
    const { log } = runThrough(aDefinition({ steps: [wait('w', 'PT20M'), anEmail('hello')] }))
    expect(log).toMatchObject([
      { at: START, decision: { kind: 'waits', step: 'w', until: START + 20 * MINUTE_MS } },
      { at: START + 20 * MINUTE_MS, decision: { kind: 'sends', step: 'hello' } },
      { at: START + 20 * MINUTE_MS, decision: { kind: 'ended', step: null } },
    ])
  })

  test('an empty workflow ends at once', () => {
    expect(runThrough(aDefinition({ steps: [] })).kinds).toEqual(['ended'])
  })

  test('the first wait counts from the event, also when it arrives late', () => {
    const program = compileProgram(
      aDefinition({ steps: [wait('w', 'PT20M'), anEmail('a'), wait('w2', 'PT1H'), anEmail('b')] }),
    )
    const late = START + 3 * HOUR_MS
    const { decisions, next } = advance(program, freshRun(program, START), facts({ now: late }))
    expect(decisions.map(({ kind }) => kind)).toEqual(['sends', 'waits'])
    // The second counts from the message, so that two do not come at once.
    expect(next.dueAt).toBe(late + HOUR_MS)
  })

  test('being looked at before it is due changes nothing and says nothing', () => {
    const program = compileProgram(aDefinition({ steps: [wait('w', 'P1D'), anEmail('a')] }))
    const parked = advance(program, freshRun(program, START), facts()).next
    const again = advance(program, parked, facts({ now: START + HOUR_MS }))
    expect(again).toMatchObject({ decisions: [], next: parked })
  })

  test('days are counted where the person lives: 11:00 stays 11:00 over the change of clocks', () => {
    const program = compileProgram(aDefinition({ steps: [wait('w', 'P1D'), anEmail('a')] }))
    const entered = at('2026-03-07T16:00:00Z')
    const { next } = advance(
      program,
      freshRun(program, entered),
      facts({ now: entered, customer: { zone: 'America/New_York' } }),
    )
    expect(next.dueAt).toBe(at('2026-03-08T15:00:00Z'))
  })

  test('without a zone of their own, the shop’s counts', () => {
    const program = compileProgram(aDefinition({ steps: [wait('w', 'P1D')] }))
    const entered = at('2026-03-28T11:00:00Z')
    const { next } = advance(
      program,
      freshRun(program, entered),
      facts({ now: entered, customer: { zone: null } }),
    )
    // Lisbon goes to summer time on 29 March 2026.
    expect(next.dueAt).toBe(at('2026-03-29T10:00:00Z'))
  })

  test('a step that the version does not have is an error, not a silence', () => {
    const program = compileProgram(aDefinition())
    const lost: RunState = { ...freshRun(program, START), step: 'gone' }
    expect(() => advance(program, lost, facts())).toThrow(/no step "gone"/)
  })
})

describe('splits', () => {
  const placed = (times: number) =>
    Array.from({ length: times }, (_, index) =>
      past('order.placed', START - index * DAY_MS, `o${index}`),
    )

  test.each([
    [1, ['thanks1']],
    [2, ['thanks2']],
    [3, []],
  ])('order number %i gets %j', (times, mails) => {
    const { log } = runThrough(thanksDefinition(), () => ({ history: placed(times) }))
    expect(log.flatMap(({ decision }) => (decision.kind === 'sends' ? decision.step : []))).toEqual(
      mails,
    )
  })

  test('the first branch that holds wins, though others would too', () => {
    const always = { kind: 'all' as const, of: [] }
    const split = {
      key: 's',
      kind: 'split' as const,
      branches: [
        { key: 'a', name: 'A', when: always, steps: [anEmail('first')] },
        { key: 'b', name: 'B', when: always, steps: [anEmail('second')] },
      ],
      otherwise: [],
    }
    const { log } = runThrough(aDefinition({ steps: [split, anEmail('after')] }))
    // Paths meet again after the split.
    expect(log.flatMap(({ decision }) => (decision.kind === 'sends' ? decision.step : []))).toEqual(
      ['first', 'after'],
    )
  })

  test('an end inside a branch ends the run, not only the branch', () => {
    const split = {
      key: 's',
      kind: 'split' as const,
      branches: [
        { key: 'a', name: 'A', when: { kind: 'all' as const, of: [] }, steps: [end('e')] },
      ],
      otherwise: [],
    }
    expect(runThrough(aDefinition({ steps: [split, anEmail('after')] })).kinds).toEqual([
      'tookBranch',
      'ended',
    ])
  })
})

describe('exclusions and gates', () => {
  const steps = [wait('w1', 'P1D'), anEmail('one'), wait('w2', 'P1D'), anEmail('two')]
  const refundedAt = (when: number) => (now: number) => ({
    history: now >= when ? [past('order.refunded', when)] : [],
  })

  test('leave: nothing more, and the reason with its facts', () => {
    const definition = aDefinition({
      steps,
      exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
    })
    const { log, run } = runThrough(definition, refundedAt(START + 1.5 * DAY_MS))
    expect(log.map(({ decision }) => decision.kind)).toEqual(['waits', 'sends', 'waits', 'left'])
    expect(log.at(-1)?.decision).toMatchObject({
      kind: 'left',
      step: 'two',
      exclusion: 'refund',
      observed: [
        {
          kind: 'history',
          event: 'order.refunded',
          about: 'subject',
          count: 1,
          lastAt: START + 1.5 * DAY_MS,
        },
      ],
    })
    expect(run).toMatchObject({ status: 'ended', step: null, dueAt: null })
  })

  test('skip: that message only', () => {
    const definition = aDefinition({
      steps,
      exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'skip' }],
    })
    const { kinds } = runThrough(definition, refundedAt(START + 1.5 * DAY_MS))
    expect(kinds).toEqual(['waits', 'sends', 'waits', 'skipped', 'ended'])
  })

  test('are asked before a hook as before a message', () => {
    const hook = { key: 'h', kind: 'hook', name: 'Tell', url: 'https://other.example' } as const
    const exclusion = { key: 'refund', when: happened('order.refunded') }
    const kinds = (effect: 'leave' | 'skip') =>
      runThrough(
        aDefinition({ steps: [wait('w', 'P2D'), hook], exclusions: [{ ...exclusion, effect }] }),
        refundedAt(START + DAY_MS),
      ).kinds
    expect(kinds('leave')).toEqual(['waits', 'left'])
    expect(kinds('skip')).toEqual(['waits', 'skipped', 'ended'])
  })

  test('a message’s own condition', () => {
    const onlyIf = {
      kind: 'field' as const,
      field: 'order.total',
      op: 'gte',
      value: { amountMinor: 10_000, currency: 'EUR' },
    }
    const { log } = runThrough(aDefinition({ steps: [anEmail('big', { onlyIf }), anEmail('all')] }))
    expect(log).toMatchObject([
      { decision: { kind: 'skipped', step: 'big', reason: { code: 'onlyIf' } } },
      { decision: { kind: 'sends', step: 'all' } },
      {},
    ])
  })

  test.each([
    ['no address', 'transactional', { address: null }, { code: 'noAddress' }],
    ['bounced', 'transactional', { suppressed: 'bounced' }, { code: 'suppressed', why: 'bounced' }],
    [
      'unsubscribed',
      'marketing',
      { suppressed: 'unsubscribed' },
      { code: 'suppressed', why: 'unsubscribed' },
    ],
    ['said no', 'marketing', { consent: false }, { code: 'noConsent', known: true }],
    ['never asked', 'marketing', { consent: null }, { code: 'noConsent', known: false }],
  ] as const)('%s: a %s message is skipped', (_name, purpose, email, reason) => {
    const { log } = runThrough(aDefinition({ steps: [anEmail('m', { purpose })] }), () => ({
      channels: { email },
    }))
    expect(log[0]?.decision).toMatchObject({ kind: 'skipped', step: 'm', reason })
  })

  test.each([
    { consent: false },
    { consent: null },
    { suppressed: 'unsubscribed' as const },
    { suppressed: 'complained' as const },
  ])('a transactional message goes to %j', (email) => {
    expect(runThrough(aDefinition(), () => ({ channels: { email } })).kinds).toEqual([
      'sends',
      'ended',
    ])
  })
})

describe('a message that is held back', () => {
  const offer = anEmail('offer', { purpose: 'marketing' })
  const atFive = { key: 'w', kind: 'wait', for: 'P1D', at: '17:00' } as const
  /** Another marketing message left an hour before five, and the gap is 20 hours. */
  const gap = (now: number) => ({
    now,
    shop: { messageGap: 'PT20H', quietHours: { from: '21:00', to: '08:00' } },
    messages: [{ runId: 9, workflowId: 'w9', step: 'x', at: at('2026-04-15T15:00:00Z'), marketing: true, openedAt: null, clickedAt: null }],
  }) // prettier-ignore
  const sentAt = (step: Definition['steps'][number], over = gap) => {
    const { log } = runThrough(aDefinition({ steps: [step, offer] }), over)
    return log.find(({ decision }) => decision.kind === 'sends')?.at
  }
  test('leaves at the hour its own wait asks for, not when the gap is over', () => {
    // The gap opens at 12:00 on the 16th in Lisbon; the hour is five in the afternoon there.
    expect(sentAt(atFive)).toBe(at('2026-04-16T16:00:00Z'))
  })
  test('and on a weekday that its wait permits', () => {
    expect(sentAt({ ...atFive, weekdays: [3, 5] })).toBe(at('2026-04-17T16:00:00Z'))
  })
  test('a wait without an hour asks for none: it leaves as soon as the gap is over', () => {
    expect(sentAt(wait('w', 'PT31H'))).toBe(at('2026-04-16T11:00:00Z'))
  })
  test('an hour that is always quiet would never come: it leaves when quiet hours end', () => {
    expect(sentAt({ ...atFive, at: '22:00' })).toBe(at('2026-04-16T11:00:00Z'))
  })
})

describe('a mark', () => {
  test('is seen by what comes after it in the same moment', () => {
    const tagged = { kind: 'field', field: 'customer.tags', op: 'hasAny', value: ['keen'] } as const
    const steps = [
      { key: 't', kind: 'tag', change: 'add', tag: 'keen' } as const,
      anEmail('for-the-keen', { onlyIf: tagged }),
      { key: 'u', kind: 'tag', change: 'remove', tag: 'keen' } as const,
      anEmail('again', { onlyIf: tagged }),
    ]
    expect(runThrough(aDefinition({ steps })).kinds).toEqual(['marks', 'sends', 'marks', 'skipped', 'ended']) // prettier-ignore
  })
})

describe('a coupon', () => {
  const coupon = {
    key: 'coupon',
    kind: 'coupon',
    name: 'Offer',
    pattern: 'BEE-####',
    discount: { kind: 'percent', percent: 10 },
    expiresAfter: 'P1D',
  } as const
  const shows = (key: string) => anEmail(key, { purpose: 'marketing', body: 'Code {{ coupon.code }}' }) // prettier-ignore
  const steps = [coupon, wait('w', 'P2D'), shows('offer'), wait('w2', 'P1D'), shows('last')]
  test('is issued with the first message that shows it, once, and counts from there', () => {
    const { log } = runThrough(aDefinition({ steps }))
    expect(log.filter(({ decision }) => decision.kind === 'issues')).toMatchObject([
      { at: START + 2 * DAY_MS, decision: { step: 'coupon', expiresAt: START + 3 * DAY_MS } },
    ])
    expect(log.map(({ decision }) => decision.kind)).toEqual(['waits', 'issues', 'sends', 'waits', 'sends', 'ended']) // prettier-ignore
  })
  test('is not issued to those whose messages are skipped or who leave before', () => {
    const skipped = runThrough(aDefinition({ steps }), () => ({
      channels: { email: { consent: false } },
    }))
    expect(skipped.kinds).not.toContain('issues')
    const exclusions = [{ key: 'x', when: happened('order.refunded'), effect: 'leave' as const }]
    const left = runThrough(aDefinition({ steps, exclusions }), (now) => ({ history: now > START ? [past('order.refunded', START + 1)] : [] })) // prettier-ignore
    expect(left.kinds).toEqual(['waits', 'left'])
  })
  test('that no message shows is issued at its step, for whoever fetches codes', () => {
    expect(runThrough(aDefinition({ steps: [coupon, wait('w', 'P2D'), anEmail('m')] })).kinds).toEqual(['issues', 'waits', 'sends', 'ended']) // prettier-ignore
  })
})

describe('whatever the workflow and the history (properties)', () => {
  const histories = fc.array(
    fc.record({
      type: fc.constantFrom(
        'order.placed' as const,
        'order.cancelled' as const,
        'order.refunded' as const,
      ),
      at: fc.integer({ min: -60, max: 60 }).map((days) => START + days * DAY_MS + 1),
      subjectId: fc.constantFrom('o1', 'o2'),
    }),
    { maxLength: 8 },
  )

  test('every document that is generated is valid', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        expect(definitionSchema.safeParse(definition).success).toBe(true)
      }),
    )
  })

  test('a run ends; each message is decided once at most; nothing is sent once an exclusion made it leave', () => {
    fc.assert(
      fc.property(definitions, histories, (definition, history) => {
        const { log, run } = runThrough(definition, () => ({ history }))
        expect(run.status).toBe('ended')
        const decided = log.flatMap(({ decision }) =>
          decision.kind === 'sends' || decision.kind === 'skipped' ? decision.step : [],
        )
        expect(new Set(decided).size).toBe(decided.length)
        const left = log.findIndex(({ decision }) => decision.kind === 'left')
        if (left !== -1) expect(left).toBe(log.length - 1)
      }),
      { numRuns: 300 },
    )
  })

  test('after an exclusion holds for good, no message goes', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        const excluded = {
          ...definition,
          exclusions: [{ key: 'x', when: happened('order.refunded'), effect: 'leave' as const }],
        }
        const { kinds } = runThrough(excluded, () => ({
          history: [past('order.refunded', START + 1)],
        }))
        // The refund is a millisecond after entry, so it holds at every wake-up but the first.
        const firstWait = kinds.indexOf('waits')
        expect(firstWait === -1 ? [] : kinds.slice(firstWait)).not.toContain('sends')
      }),
    )
  })

  test('the same version, facts and clock give the same decisions', () => {
    fc.assert(
      fc.property(definitions, histories, (definition, history) => {
        expect(runThrough(definition, () => ({ history }))).toEqual(
          runThrough(structuredClone(definition), () => ({ history: history.toReversed() })),
        )
      }),
    )
  })

  test('a run in progress has a due time, or it is at no wait', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        const program: Program = compileProgram(definition)
        const { next } = advance(program, freshRun(program, START), facts())
        expect(next.status === 'ended' || next.dueAt !== null).toBe(true)
      }),
    )
  })
})
