import { afterEach, beforeEach, expect, test } from 'vitest'
import { numbersOf } from '../../backend/workflows/index.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import {
  aCustomer,
  aDefinition,
  anEmail,
  aSubscription,
  eventOf,
  happened,
  on,
  orderEvent,
  ordersEver,
  START,
  wait,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { replay } from './replay.ts'
import { replayNumbers } from './replayNumbers.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

/** An order event of one of three customers, so many days after the start. */
const event = (
  type: 'order.placed' | 'order.paid' | 'order.refunded' | 'order.fulfilled',
  id: string,
  customerId: string,
  days: number,
) =>
  orderEvent(
    type,
    START + days * DAY_MS,
    { id, number: id, customerId },
    { id: customerId, email: `${customerId}@example.org`, emailConsent: customerId !== 'c3' },
  )

const HISTORY = [
  event('order.placed', 'o1', 'c1', 1),
  event('order.placed', 'o2', 'c2', 2),
  event('order.paid', 'o1', 'c1', 2.5),
  event('order.refunded', 'o2', 'c2', 3),
  event('order.placed', 'o3', 'c3', 4),
  event('order.placed', 'o4', 'c1', 9),
  event('order.placed', 'o5', 'c2', 20),
]

const EVERYTHING = aDefinition({
  exclusions: [{ key: 'refunded', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    anEmail('receipt'),
    {
      key: 'paid',
      kind: 'waitFor',
      event: 'order.paid',
      about: 'subject',
      limit: 'P3D',
      came: [anEmail('thanks')],
      otherwise: [{ key: 'mark', kind: 'tag', change: 'add', tag: 'slow' }],
    },
    wait('w', 'P2D'),
    {
      key: 's',
      kind: 'split',
      branches: [
        { key: 'first', name: 'First', when: ordersEver(1), steps: [anEmail('advice', { purpose: 'marketing' })] },
      ],
      otherwise: [wait('long', 'P7D'), anEmail('again', { purpose: 'marketing' })],
    },
  ],
}) // prettier-ignore

const replayed = async (definition: Definition) => {
  const past = await replay(world.db, SHOP, definition)
  return past && replayNumbers(past.lives)
}

const byStep = <One extends { step: string }>(list: readonly One[]): One[] =>
  list.toSorted((a, b) => JSON.stringify(a).localeCompare(JSON.stringify(b)))

test('what a workflow would have done is what it did', async () => {
  const id = await world.publish(EVERYTHING)
  for (const one of HISTORY) {
    await world.moveTo(Date.parse(one.time))
    await world.post(one)
  }
  await world.moveTo(START + 24 * DAY_MS)
  const live = await numbersOf(world.db, SHOP, id)
  const past = await replayed(EVERYTHING)
  expect(past?.total).toEqual({ ...live.total, nextDueAt: null })
  expect(past?.exclusions).toEqual(live.exclusions)
  expect(byStep(past?.branches ?? [])).toEqual(byStep(live.branches))
  // The live list names branching steps too, at which nothing is sent, skipped or done.
  const counted = live.steps.filter(({ step: _step, ...numbers }) =>
    Object.values(numbers).some((number) => number > 0),
  )
  expect(byStep(past?.steps ?? [])).toEqual(byStep(counted))
  // Everything above has happened at all.
  expect(live.total).toMatchObject({ entered: 5, left: 1 })
  expect(live.total.skipped).toBeGreaterThan(0)
  expect(live.total.inProgress).toBeGreaterThan(0)
})

/** Words that any trigger can fill. */
const PLAIN = { subject: 'News', body: 'Hello.' }

test('a workflow by dates would have done what it did, with dates that are moved and passed', async () => {
  const reminder = aDefinition({
    trigger: { kind: 'date', field: 'subscription.nextPaymentAt', direction: 'before', days: 3, at: '09:00', zone: 'shop' },
    exclusions: [{ key: 'failed', when: happened('subscription.payment_failed'), effect: 'leave' }],
    steps: [anEmail('m', PLAIN), wait('w', 'P2D'), anEmail('n', PLAIN)],
  }) // prettier-ignore
  const renewal = (
    type: 'subscription.created' | 'subscription.changed' | 'subscription.payment_failed',
    id: string,
    days: number,
    nextDays: number,
  ) =>
    eventOf(type, START + days * DAY_MS, {
      customer: aCustomer({ id: `c-${id}`, email: `${id}@example.org` }),
      subscription: aSubscription({
        id,
        customerId: `c-${id}`,
        nextPaymentAt: new Date(START + nextDays * DAY_MS).toISOString(),
      }),
    })
  const id = await world.publish(reminder)
  for (const one of [
    renewal('subscription.created', 's1', 0.5, 10),
    renewal('subscription.created', 's2', 1, 10),
    // Known too late.
    renewal('subscription.created', 's3', 1.5, 2),
    // Moved before its moment, to a later one; and once more after that had come.
    renewal('subscription.changed', 's2', 5, 20),
    renewal('subscription.payment_failed', 's1', 7.5, 10),
    renewal('subscription.changed', 's2', 18, 40),
  ]) {
    await world.moveTo(Date.parse(one.time))
    await world.post(one)
  }
  await world.moveTo(START + 30 * DAY_MS)
  const live = await numbersOf(world.db, SHOP, id)
  const past = await replayed(reminder)
  expect(live.total).toMatchObject({ entered: 2, left: 1, sent: 3 })
  expect(past?.total).toEqual({ ...live.total, nextDueAt: null })
  expect(byStep(past?.steps ?? [])).toEqual(byStep(live.steps))
})

test('nothing is sent, kept or changed by it', async () => {
  await world.post(
    ...HISTORY.slice(0, 1).map((one) => ({ ...one, time: new Date(START).toISOString() })),
  )
  expect(await replayed(EVERYTHING)).toMatchObject({ total: { entered: 1, sent: 1 } })
  expect(await world.mails()).toEqual([])
  expect(await world.ledger()).toEqual([])
})

test('what was placed before the 90 days is known when it goes on within them', async () => {
  const within: Definition = aDefinition({
    trigger: on('order.fulfilled'),
    steps: [
      anEmail('m', { onlyIf: { kind: 'field', field: 'order.placedAt', op: 'withinLast', value: 100 } }),
      anEmail('n', { onlyIf: { kind: 'field', field: 'order.placedAt', op: 'withinLast', value: 10 } }),
    ],
  }) // prettier-ignore
  await world.post(event('order.placed', 'o1', 'c1', -1))
  await world.moveTo(START + 91 * DAY_MS)
  await world.post(event('order.fulfilled', 'o1', 'c1', 90))
  const past = await replayed(within)
  expect(past?.steps).toMatchObject([
    { step: 'm', sent: 1 },
    { step: 'n', skipped: 1 },
  ])
})

test('what was ordered long before is known where a condition asks for it', async () => {
  const isFar: Condition = { kind: 'field', field: 'line.product', op: 'in', value: ['p-far'] }
  const isLarge: Condition = {
    kind: 'field',
    field: 'order.total',
    op: 'gte',
    value: { amountMinor: 5000, currency: 'EUR' },
  }
  const bought: Definition = aDefinition({
    steps: [
      anEmail('m', { onlyIf: { ...ordersEver(1), where: isLarge } as Condition }),
      anEmail('n', { onlyIf: { kind: 'lines', on: 'orders', how: 'some', of: [isFar] } }),
    ],
  })
  const far = { productId: 'p-far', title: 'Smoker', quantity: 1, unitPriceMinor: 6000 }
  await world.post(
    orderEvent('order.placed', START - 200 * DAY_MS, { id: 'o0', customerId: 'c1', totalMinor: 6000, lines: [far] }, { id: 'c1', email: 'c1@example.org', emailConsent: true }),
    event('order.placed', 'o1', 'c1', -1),
    event('order.placed', 'o2', 'c2', -1),
  ) // prettier-ignore
  const past = await replayed(bought)
  expect(past?.steps).toMatchObject([
    { step: 'm', sent: 1, skipped: 1 },
    { step: 'n', sent: 1, skipped: 1 },
  ])
})

test('of those that people are put in by hand, and of unfinished conditions, nothing can be said', async () => {
  const trigger: Definition['trigger'] = { kind: 'hand', subject: 'customer' }
  expect(await replay(world.db, SHOP, aDefinition({ trigger }))).toBeNull()
  const unfinished = { kind: 'field' as const, field: 'order.products', op: 'hasAny', value: [] }
  const steps = [anEmail('m', { onlyIf: unfinished })]
  expect(await replay(world.db, SHOP, aDefinition({ steps }))).toBeNull()
})
