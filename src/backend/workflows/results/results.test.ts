import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import type { CohortResults } from '../../../contract/results.ts'
import { DAY_MS, HOUR_MS } from '../../../core/shared/duration.ts'
import type { Instant } from '../../../core/shared/time.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition, anEmail, eventOf, happened, orderEvent, START, wait } from '../../../testing/builders.ts' // prettier-ignore
import { makeWorld, SHOP, type World } from '../../../testing/world.ts'
import { rowsOf } from '../../platform/db.ts'
import { messageDetail, peopleBehind, workflowResults } from '../index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const followUp = (over: Partial<Definition> = {}) =>
  aDefinition({
    trigger: { kind: 'event', event: 'order.paid' },
    steps: [anEmail('first', { name: 'First' }), wait('w', 'P3D'), anEmail('second', { purpose: 'marketing' })], // prettier-ignore
    ...over,
  })
const paid = (id: string, customer: object = {}) =>
  orderEvent('order.paid', START, { id, number: id, customerId: id }, { id, email: `${id}@example.org`, emailConsent: true, ...customer }) // prettier-ignore
const placed = (id: string, by: string, at: Instant, totalMinor = 1000) =>
  orderEvent('order.placed', at, { id, number: id, customerId: by, totalMinor }, { id: by })

const results = async (workflowId: string, now: Instant, over: object = {}) =>
  workflowResults(world.db, {
    shopId: SHOP,
    workflowId,
    from: START - DAY_MS,
    to: now + 1,
    windowDays: 7,
    now,
    ...over,
  })
const of = ({ messages }: CohortResults, step: string) => messages.find((one) => one.step === step)

/** The Message-ID of what somebody got. */
async function messageId(customerId: string, step: string): Promise<string> {
  const [row] = await rowsOf(
    world.db,
    z.object({ id: z.string() }),
    sql`select message_id as id from messages where customer_id = ${customerId} and step = ${step}`,
  )
  return row?.id ?? ''
}

test('each message with what became of it: sent, seen, ordered; and why others did not get it', async () => {
  const id = await world.publish(
    followUp({
      exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
    }),
  )
  await world.post(paid('a'), paid('b'), paid('c', { emailConsent: false }), paid('d'))
  const about = async (
    type: 'message.opened' | 'message.clicked' | 'message.bounced' | 'message.unsubscribed',
    who: string,
    step: string,
    at: Instant,
  ) =>
    // prettier-ignore
    world.post(eventOf(type, at, { message: { customerId: who, id: await messageId(who, step) } }))
  await world.moveTo(START + HOUR_MS)
  await about('message.clicked', 'a', 'first', START + HOUR_MS)
  await about('message.opened', 'b', 'first', START + HOUR_MS)
  await about('message.bounced', 'c', 'first', START + HOUR_MS)
  await world.post(orderEvent('order.refunded', START + HOUR_MS, { id: 'd', number: 'd', customerId: 'd' }, { id: 'd' })) // prettier-ignore
  await world.moveTo(START + 4 * DAY_MS)
  await about('message.unsubscribed', 'b', 'second', START + 4 * DAY_MS)
  await world.post(placed('o1', 'a', START + 4 * DAY_MS), placed('o2', 'a', START + 4 * DAY_MS, 500)) // prettier-ignore
  await world.moveTo(START + 7 * DAY_MS)

  const { over, open } = await results(id, START + 7 * DAY_MS)
  expect(open).toMatchObject({ entered: 0, messages: [] })
  expect(over).toMatchObject({ entered: 4, ordered: 1, orders: 2, revenueMinor: 1500 })
  expect(of(over, 'first')).toEqual({
    step: 'first',
    reached: 4,
    sent: 4,
    delivered: 3,
    opened: 2,
    fetched: 0,
    clicked: 1,
    replied: 0,
    unsubscribed: 0,
    complained: 0,
    ordered: 0,
    orders: 0,
    revenueMinor: 0,
    notSent: [],
  })
  expect(of(over, 'second')).toMatchObject({
    reached: 4,
    sent: 2,
    delivered: 2,
    unsubscribed: 1,
    ordered: 1,
    orders: 2,
    revenueMinor: 1500,
    notSent: expect.arrayContaining([
      { code: 'noConsent', exclusion: null, count: 1 },
      { code: 'left', exclusion: 'refund', count: 1 },
    ]) as unknown,
  })
})

test('numerator and denominator are the same people: what comes after their days counts for nothing', async () => {
  const id = await world.publish(followUp())
  await world.post(paid('a'))
  await world.moveTo(START + 5 * DAY_MS)
  await world.post(placed('o1', 'a', START + 5 * DAY_MS))
  const within = async (windowDays: number) =>
    (await results(id, START + 5 * DAY_MS, { windowDays })).over
  // On day 3 the second left, on day 5 they ordered.
  expect(of(await within(2), 'second')).toBeUndefined()
  expect(of(await within(4), 'second')).toMatchObject({ sent: 1, ordered: 0 })
  expect(of(await within(5), 'second')).toMatchObject({ sent: 1, ordered: 1 })
  expect(await within(2)).toMatchObject({ entered: 1, ordered: 0 })
})

test('those for whom more may come stand apart; a time has its beginning in it, and not its end', async () => {
  const id = await world.publish(followUp())
  await world.post(paid('a'))
  await world.moveTo(START + 5 * DAY_MS)
  await world.post(orderEvent('order.paid', START + 5 * DAY_MS, { id: 'b', number: 'b', customerId: 'b' }, { id: 'b', email: 'b@example.org' })) // prettier-ignore
  const now = START + 8 * DAY_MS
  await world.moveTo(now)
  const all = await results(id, now)
  expect([all.over.entered, all.open.entered]).toEqual([1, 1])
  expect(of(all.open, 'first')).toMatchObject({ reached: 1, sent: 1 })
  const entered = async (from: Instant, to: Instant) => {
    const { over, open } = await results(id, now, { from, to })
    return over.entered + open.entered
  }
  expect(await entered(START, START + 5 * DAY_MS)).toBe(1)
  expect(await entered(START + 1, START + 5 * DAY_MS)).toBe(0)
  expect(await entered(START, START + 5 * DAY_MS + 1)).toBe(2)
})

test('what programs fetch and follow within seconds is told apart from what people do', async () => {
  const id = await world.publish(followUp())
  await world.post(paid('a'), paid('b'), paid('c'))
  await world.moveTo(START + HOUR_MS)
  const event = async (
    type: 'message.opened' | 'message.clicked',
    who: string,
    at: Instant,
    url = 'https://example.org/1',
  ) =>
    // prettier-ignore
    world.post(eventOf(type, at, { message: { customerId: who, id: await messageId(who, 'first'), ...(type === 'message.clicked' && { url }) } }))
  // Two links at once: a program. One at once: somebody quick. Two at once and one later: both.
  await event('message.opened', 'a', START + 2000)
  await event('message.clicked', 'a', START + 3000)
  await event('message.clicked', 'a', START + 3000, 'https://example.org/2')
  await event('message.clicked', 'b', START + 4000)
  await event('message.clicked', 'c', START + 3000)
  await event('message.clicked', 'c', START + 3000, 'https://example.org/2')
  await event('message.clicked', 'c', START + 30 * 60_000)
  const { over } = await results(id, START + 7 * DAY_MS)
  expect(of(over, 'first')).toMatchObject({ opened: 3, fetched: 2, clicked: 2 })
})

test('behind each figure stand as many people as it says', async () => {
  const id = await world.publish(followUp())
  await world.post(paid('a'), paid('b'), paid('c', { emailConsent: false }))
  await world.moveTo(START + 4 * DAY_MS)
  await world.post(placed('o1', 'a', START + 4 * DAY_MS))
  const now = START + 8 * DAY_MS
  const { over } = await results(id, now)
  const asked = { shopId: SHOP, workflowId: id, from: START - DAY_MS, to: now, windowDays: 7, now }
  const measures = ['reached', 'sent', 'delivered', 'opened', 'clicked', 'ordered', 'unsubscribed', 'complained', 'fetched'] as const // prettier-ignore
  for (const step of ['first', 'second']) {
    for (const measure of measures) {
      const people = await peopleBehind(world.db, asked, { measure, step, isWithOpen: false, most: 50 }) // prettier-ignore
      expect(people, `${measure} of ${step}`).toHaveLength(of(over, step)?.[measure] ?? -1)
    }
  }
  const unsent = await peopleBehind(world.db, asked, { measure: 'notSent', step: 'second', code: 'noConsent', isWithOpen: false, most: 50 }) // prettier-ignore
  expect(unsent.map(({ customerId }) => customerId)).toEqual(['c'])
  expect(await peopleBehind(world.db, asked, { measure: 'entered', isWithOpen: false, most: 2 })).toHaveLength(2) // prettier-ignore
  const [buyer] = await peopleBehind(world.db, asked, { measure: 'ordered', isWithOpen: false, most: 9 }) // prettier-ignore
  expect(buyer).toMatchObject({ customerId: 'a', revenueMinor: 1000 })
})

test('a path, and a version, by themselves', async () => {
  const split = {
    key: 'by-consent',
    kind: 'split' as const,
    branches: [{ key: 'yes', name: 'Yes', when: { kind: 'field' as const, field: 'customer.emailConsent', op: 'is', value: true }, steps: [anEmail('first')] }], // prettier-ignore
    otherwise: [anEmail('second')],
  }
  const id = await world.publish(followUp({ steps: [split] }))
  await world.post(paid('a'), paid('b'), paid('c', { emailConsent: false }))
  const now = START + 8 * DAY_MS
  await world.moveTo(now)
  const way = (branch: string | null) => results(id, now, { way: { step: 'by-consent', branch } })
  expect(await way('yes')).toMatchObject({ over: { entered: 2, messages: [{ step: 'first', reached: 2 }] } }) // prettier-ignore
  expect(await way(null)).toMatchObject({ over: { entered: 1, messages: [{ step: 'second', reached: 1 }] } }) // prettier-ignore
  expect(await results(id, now, { version: 1 })).toMatchObject({ over: { entered: 3 } })
  expect(await results(id, now, { version: 2 })).toMatchObject({ over: { entered: 0 } })
})

test('a message link by link, and by the hour and weekday at which it left where people live', async () => {
  const id = await world.publish(followUp())
  await world.post(paid('a', { zone: 'America/New_York' }), paid('b'), paid('c'))
  await world.moveTo(START + HOUR_MS)
  const click = async (customer: string, url: string) =>
    world.post(eventOf('message.clicked', START + HOUR_MS, { message: { customerId: customer, id: await messageId(customer, 'first'), url } })) // prettier-ignore
  await click('a', 'https://example.org/guide?from=mail')
  await click('b', 'https://example.org/guide')
  await click('b', 'https://example.org/shop')
  const now = START + 8 * DAY_MS
  const asked = { shopId: SHOP, workflowId: id, from: START - DAY_MS, to: now, windowDays: 7, now }
  const { links, hours, weekdays, days, untilOrder } = await messageDetail(
    world.db,
    asked,
    'first',
    false,
  )
  expect(links).toEqual([
    { url: 'https://example.org/guide', people: 2 },
    { url: 'https://example.org/shop', people: 1 },
  ])
  // 09:20 UTC on a Tuesday: 05:20 in New York, 10:20 in the shop.
  expect(hours).toEqual([
    { at: 5, delivered: 1, opened: 1, clicked: 1 },
    { at: 10, delivered: 2, opened: 1, clicked: 1 },
  ])
  expect(weekdays).toEqual([{ at: 2, delivered: 3, opened: 2, clicked: 2 }])
  expect(days).toEqual([{ date: '2026-04-14', delivered: 3, opened: 2, clicked: 2 }])
  expect(untilOrder).toBeNull()
})

test('how soon people ordered: who got it lately counts only for as long', async () => {
  const id = await world.publish(followUp())
  await world.post(paid('a'), paid('b'), paid('c'))
  await world.moveTo(START + 5 * HOUR_MS)
  await world.post(placed('o1', 'a', START + 5 * HOUR_MS), eventOf('message.replied', START + 5 * HOUR_MS, { message: { customerId: 'b', id: await messageId('b', 'first') } })) // prettier-ignore
  await world.moveTo(START + 2 * DAY_MS)
  await world.post(paid('late', {}))
  await world.moveTo(START + 3 * DAY_MS)
  await world.post(placed('o2', 'b', START + 3 * DAY_MS))
  const now = START + 3 * DAY_MS
  const asked = { shopId: SHOP, workflowId: id, from: START - DAY_MS, to: now, windowDays: 7, now }
  const { untilOrder } = await messageDetail(world.db, asked, 'first', true)
  // Of three and one who came later: one after 5 hours; of the two who had it for 72 one more.
  expect(untilOrder?.curve.map(({ hours, share }) => [hours, Number(share.toFixed(4))])).toEqual([
    [5, 0.25],
    [72, Number((1 - (3 / 4) * (1 / 2)).toFixed(4))],
  ])
  expect(untilOrder?.reached.find(({ share }) => share === 0.25)).toMatchObject({ hours: 5 })
  const { open } = await results(id, now)
  expect(of(open, 'first')).toMatchObject({ delivered: 4, replied: 1 })
})
