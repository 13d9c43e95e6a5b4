import { describe, expect, test } from 'vitest'
import { aLine, facts, past } from '../../testing/coreFacts.ts'
import { START } from '../../testing/builders.ts'
import { NO_ENTITY, orderFacts } from '../events/entityFacts.ts'
import { anOrder } from '../../testing/builders.ts'
import type { PastMessage } from '../events/facts.ts'
import { DAY_MS, HOUR_MS } from '../shared/duration.ts'
import { compileCondition } from './compile.ts'
import type { Condition, HistoryCondition } from './condition.ts'
import { isCountable } from './countable.ts'

type Over = Parameters<typeof facts>[0]

const holds = (condition: Condition, over: Over): boolean =>
  compileCondition(condition).holds({ facts: facts(over), enteredAt: START })

describe('what happened to this very thing', () => {
  const paid: HistoryCondition = { kind: 'history', event: 'order.paid', about: 'subject', count: { op: 'atLeast', times: 1 }, window: { kind: 'ever' } } // prettier-ignore

  test('is told by its id and its kind: a subscription may have the id of an order', () => {
    const history = [past('order.paid', START, 'x1')]
    expect(holds(paid, { history, order: { id: 'x1' } })).toBe(true)
    expect(holds(paid, { history, order: { id: 'x2' } })).toBe(false)
    expect(holds(paid, { history, subject: { kind: 'subscription', id: 'x1' } })).toBe(false)
  })
  test('is like what is asked only where it is known what it was about', () => {
    const where = { kind: 'field', field: 'order.total', op: 'gte', value: { amountMinor: 1, currency: 'EUR' } } as const // prettier-ignore
    const entity = { ...NO_ENTITY, order: orderFacts(anOrder(), 'paid', START) }
    const large = { ...paid, where }
    expect(holds(large, { history: [past('order.paid', START, 'o1', entity)] })).toBe(true)
    expect(holds(large, { history: [past('order.paid', START, 'o1')] })).toBe(false)
  })
  test('of several times the last is kept for the ledger', () => {
    const history = [past('order.paid', START + 2), past('order.paid', START + 9), past('order.paid', START + 5)] // prettier-ignore
    const asked = { facts: facts({ history, now: START + 10 }), enteredAt: START }
    expect(compileCondition(paid).observe(asked)).toMatchObject([{ count: 3, lastAt: START + 9 }])
  })
})

describe('what is in an order', () => {
  const lines = (how: 'some' | 'every' | 'none' | 'both', ...categories: string[]): Condition => ({
    kind: 'lines',
    on: 'subject',
    how,
    of: categories.map((category) => ({ kind: 'field', field: 'line.category', op: 'is', value: category })), // prettier-ignore
  })
  const of = (...categories: string[]): Over => ({
    order: { lines: categories.map((category) => aLine({ category })) },
  })

  test('of an order without lines only "none" holds', () => {
    expect(holds(lines('every', 'Hives'), of())).toBe(false)
    expect(holds(lines('some', 'Hives'), of())).toBe(false)
    expect(holds(lines('none', 'Hives'), of())).toBe(true)
  })
  test('only, some and both', () => {
    expect(holds(lines('every', 'Hives'), of('Hives', 'Hives'))).toBe(true)
    expect(holds(lines('every', 'Hives'), of('Hives', 'Feed'))).toBe(false)
    expect(holds(lines('both', 'Hives', 'Feed'), of('Hives', 'Feed', 'Books'))).toBe(true)
    expect(holds(lines('both', 'Hives', 'Feed'), of('Hives', 'Books'))).toBe(false)
  })
  test('of their orders, those that are still to come are not looked into', () => {
    const ever: Condition = { ...lines('some', 'Hives'), on: 'orders' } as Condition
    const order = orderFacts(anOrder({ lines: [{ productId: 'p1', title: 'Hive', category: 'Hives', quantity: 1, unitPriceMinor: 1 }] }), 'placed', START) // prettier-ignore
    const history = [past('order.placed', START + HOUR_MS, 'o9', { ...NO_ENTITY, order })]
    expect(holds(ever, { history, now: START })).toBe(false)
    expect(holds(ever, { history, now: START + HOUR_MS })).toBe(true)
  })
})

describe('other workflows', () => {
  const entry = (workflowId: string, inProgress: boolean) => ({ workflowId, enteredAt: START - DAY_MS, inProgress }) // prettier-ignore
  const been = (state: 'isIn' | 'hasBeenIn', workflow = 'w2'): Condition =>
    ({ kind: 'workflows', workflow, state, window: { kind: 'ever' } }) as Condition

  test('who has been in one need not be in it', () => {
    expect(holds(been('hasBeenIn'), { entries: [entry('w2', false)] })).toBe(true)
    expect(holds(been('isIn'), { entries: [entry('w2', false)] })).toBe(false)
    expect(holds(been('isIn'), { entries: [entry('w2', true)] })).toBe(true)
  })
  test('another is not the one that is asked about', () => {
    expect(holds(been('hasBeenIn'), { entries: [entry('w3', true)] })).toBe(false)
    expect(holds(been('hasBeenIn', 'any'), { entries: [entry('w3', true)] })).toBe(true)
  })
})

describe('messages they got', () => {
  const got = (over: Partial<PastMessage> = {}): PastMessage => ({
    runId: 9,
    workflowId: 'w2',
    step: 'm',
    at: START - 2 * DAY_MS,
    marketing: true,
    openedAt: null,
    clickedAt: null,
    ...over,
  })
  const asked = (over: object): Condition =>
    ({ kind: 'messages', did: 'got', workflow: 'any', window: { kind: 'ever' }, ...over }) // prettier-ignore

  test('getting one is not opening it, nor is opening clicking', () => {
    const opened = got({ openedAt: START - DAY_MS })
    expect(holds(asked({ did: 'opened' }), { messages: [got()] })).toBe(false)
    expect(holds(asked({ did: 'opened' }), { messages: [opened] })).toBe(true)
    expect(holds(asked({ did: 'clicked' }), { messages: [opened] })).toBe(false)
  })
  test('a named one is that one', () => {
    expect(holds(asked({ workflow: 'w2', step: 'm' }), { messages: [got()] })).toBe(true)
    expect(holds(asked({ workflow: 'w2', step: 'n' }), { messages: [got()] })).toBe(false)
  })
  test('in the time that is asked about', () => {
    const lately = asked({ window: { kind: 'lastDays', days: 1 } })
    expect(holds(lately, { messages: [got()] })).toBe(false)
    expect(holds(lately, { messages: [got({ at: START - HOUR_MS })] })).toBe(true)
  })
})

describe('what a program needs', () => {
  test('what events were about is needed as soon as one test asks for it', () => {
    const counted: HistoryCondition = { kind: 'history', event: 'order.placed', about: 'customer', count: { op: 'atLeast', times: 1 }, window: { kind: 'ever' } } // prettier-ignore
    const where = { kind: 'field', field: 'order.number', op: 'known' } as const
    for (const of of [
      [counted, { ...counted, where }],
      [{ ...counted, where }, counted],
    ]) {
      const { needs } = compileCondition({ kind: 'all', of })
      expect([...needs.events]).toEqual([['order.placed', true]])
    }
  })
})

describe('what can be asked of the past', () => {
  const status: Condition = { kind: 'field', field: 'order.status', op: 'is', value: 'paid' }
  test('a status only as the event happened: it moves on', () => {
    expect(isCountable(status)).toBe(true)
    expect(isCountable(status, 'later')).toBe(false)
  })
  test('never what was sent or who was in a workflow', () => {
    expect(isCountable({ kind: 'messages', did: 'got', workflow: 'any', window: { kind: 'ever' } })).toBe(false) // prettier-ignore
    expect(isCountable({ kind: 'workflows', state: 'isIn', workflow: 'any', window: { kind: 'ever' } })).toBe(false) // prettier-ignore
  })
})
