import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import type { CohortResults } from '../../contract/results.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { aDefinition, anEmail, eventOf, happened, orderEvent, START, wait } from '../../testing/builders.ts' // prettier-ignore
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { rowsOf } from '../platform/db.ts'
import { workflowResults } from './index.ts'

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
    clicked: 1,
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
