import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { expectReorder, ownGaps } from '../../core/reorder/expect.ts'
import { reorderIntervals } from '../../core/reorder/interval.ts'
import { gapsOf, type GapSums, type Purchase } from '../../core/reorder/purchases.ts'
import { grouped } from '../../core/shared/grouped.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { seededRandom } from '../../core/shared/seededRandom.ts'
import { besideDate } from '../../core/shared/localTime.ts'
import type { Instant } from '../../core/shared/time.ts'
import { aDefinition, anEmail, eventOf, START } from '../../testing/builders.ts'
import {
  known,
  orderOf,
  pelletBuyers,
  pelletReminder,
  placed,
  PRODUCTS,
  type Product,
} from '../../testing/pelletBuyers.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { rowsOf } from '../platform/db.ts'
import { importPast } from '../shop/index.ts'
import { loadGaps } from './gaps.ts'
import { loadIntervals, reckonReorders, reckonWhenDue } from './index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const EXPECTED = z.object({
  customerId: z.string(),
  orderId: z.string(),
  at: z.number(),
  by: z.string(),
})
const expected = (customerId: string) =>
  rowsOf(
    world.db,
    EXPECTED,
    sql`select customer_id as "customerId", order_id as "orderId", expected_at as at, expected->>'by' as by
    from expected_reorders where shop_id = ${SHOP} and customer_id = ${customerId}`,
  )

test('the database counts the gaps that the core defines', async () => {
  const random = seededRandom(9)
  const names = Object.keys(PRODUCTS) as Product[]
  const purchases: Purchase[] = []
  const events: object[] = []
  for (let person = 0; person < 40; person += 1) {
    const customerId = `b${person}`
    events.push(known(customerId))
    for (let index = 0; index < random.between(1, 12); index += 1) {
      const at = START - Math.floor(random.next() * 800 * DAY_MS)
      const own = names.filter(() => random.chance(0.5))
      if (own.length === 0) continue
      const order = orderOf(customerId, own)
      events.push(eventOf('order.placed', at, { order }))
      if (random.chance(0.1)) events.push(eventOf('order.cancelled', at + 1, { order }))
      else purchases.push(...own.map((one) => ({ customerId, ...PRODUCTS[one], at })))
    }
  }
  await importPast(world.db, SHOP, events)
  const counted = await loadGaps(world.db, SHOP, START)
  const defined = gapsOf(purchases, START)
  const byKey = <One extends object>(all: readonly One[]) =>
    all.toSorted((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1))
  expect(byKey(counted.gaps)).toEqual(byKey(defined.gaps))
  const figures = (sums: readonly GapSums[]) =>
    sums.toSorted((a, b) => (a.productId < b.productId ? -1 : 1)).map((one) => [
      one.productId, one.people, one.gaps, one.squares,
      ...[one.sum, one.within, one.between].map((value) => Number(value.toPrecision(9))),
    ]) // prettier-ignore
  expect(figures(counted.sums)).toEqual(figures(defined.sums))
})

test('a reckoning gives everybody the day that the core expects, and a later one leaves it', async () => {
  const events = pelletBuyers()
  await importPast(world.db, SHOP, events)
  await reckonReorders(world.db, SHOP, START)
  const purchases = (await rowsOf(
    world.db,
    z.object({ customerId: z.string(), at: z.number() }),
    sql`select customer_id as "customerId", placed_at as at from orders order by placed_at`,
  )).map((one) => ({ ...one, ...PRODUCTS.pellets })) // prettier-ignore
  const { gaps, sums } = gapsOf(purchases, START)
  const intervals = reorderIntervals(gaps, sums)
  expect(intervals.products.get('pellets')?.days).toBeGreaterThan(30)
  for (const [id, own] of grouped(purchases, ({ customerId }) => customerId)) {
    const times = own.map(({ at }) => at)
    const at = times.at(-1) ?? 0
    const hoped = expectReorder(intervals, PRODUCTS.pellets, { at, gapsBefore: ownGaps(times), zone: 'Europe/Lisbon' }) // prettier-ignore
    expect(await expected(id)).toMatchObject([{ at: hoped?.at, by: 'person' }])
  }
  const before = await expected('b1')
  await importPast(world.db, SHOP, [known('b60'), placed('b60', START - 100 * DAY_MS, 'pellets'), placed('b60', START - 5 * DAY_MS, 'pellets')]) // prettier-ignore
  await reckonReorders(world.db, SHOP, START + 1)
  expect(await expected('b1')).toEqual(before)
})

test('people are asked before the expected day, and not once they have bought it again', async () => {
  await importPast(world.db, SHOP, pelletBuyers())
  await reckonReorders(world.db, SHOP, START)
  await world.publish(pelletReminder)
  await world.post(known('n1'), known('n2'), placed('n1', START, 'pellets'), placed('n2', START, 'pellets', 'syrup')) // prettier-ignore
  const [first] = await expected('n1')
  const days = (await loadIntervals(world.db, SHOP)).products.get('pellets')?.days ?? 0
  expect(first).toMatchObject({ by: 'product', at: START + days * DAY_MS })
  // Something else, and an order that does not stand, change nothing.
  const cancelled = orderOf('n1', ['pellets'])
  await world.moveTo(START + 5 * DAY_MS)
  await world.post(placed('n1', START + 5 * DAY_MS, 'syrup'), eventOf('order.placed', START + 5 * DAY_MS, { order: cancelled })) // prettier-ignore
  expect((await expected('n1'))[0]?.orderId).toBe(cancelled.id)
  await world.post(eventOf('order.cancelled', START + 5 * DAY_MS, { order: cancelled }))
  expect(await expected('n1')).toEqual([first])
  // The other one has bought it again by then, and is expected anew, by the rhythm that tells of.
  await world.moveTo(START + 10 * DAY_MS)
  await world.post(placed('n2', START + 10 * DAY_MS, 'pellets'))
  const [again] = await expected('n2')
  expect(again?.by).toBe('person')
  await world.moveTo(START + (days - 1) * DAY_MS)
  const asked = (await world.ledger()).flatMap((one) => (one.kind === 'sends' ? [one.at] : []))
  const morningBefore = (at: Instant | undefined) =>
    besideDate(at ?? 0, { direction: 'before', duration: 'P3D' }, '09:00', 'Europe/Lisbon')
  const mails = (await world.mails()).filter(({ to }) => /^n\d/.test(to))
  expect(mails.map(({ to }) => to)).toEqual(['n2@example.org', 'n1@example.org'])
  expect(mails[0]?.subject).toBe('More Smoker pellets?')
  expect(asked).toEqual(expect.arrayContaining([again, first].map((one) => morningBefore(one?.at))))
}, 60_000)

test('a wait goes by the expected day, and finds it gone once it was bought again', async () => {
  await importPast(world.db, SHOP, pelletBuyers())
  await reckonReorders(world.db, SHOP, START)
  await world.publish(
    aDefinition({
      trigger: { kind: 'event', event: 'order.placed', per: 'line', filter: { kind: 'field', field: 'line.product', op: 'is', value: 'pellets' } },
      steps: [
        { key: 'until', kind: 'until', until: { kind: 'field', field: 'line.reorderAt', offset: { direction: 'before', duration: 'P3D' }, at: '09:00' }, ifPast: 'leave' },
        anEmail('ask', { purpose: 'transactional' }),
      ],
    }),
  )
  await world.post(known('n1'), known('n2'), placed('n1', START, 'pellets'), placed('n2', START, 'pellets'))
  const [first] = await expected('n1')
  await world.moveTo(START + 20 * DAY_MS)
  await world.post(placed('n2', START + 20 * DAY_MS, 'pellets'))
  const [second] = await expected('n2')
  await world.moveTo(Math.max(first?.at ?? 0, second?.at ?? 0))
  const sent = (await world.ledger()).flatMap((one) => (one.kind === 'sends' ? [one.at] : []))
  const morning = (at: Instant | undefined) => besideDate(at ?? 0, { direction: 'before', duration: 'P3D' }, '09:00', 'Europe/Lisbon')
  // One for each of them: the first order of the other is not asked about any more.
  expect(sent.toSorted((a, b) => a - b)).toEqual([first, second].map((one) => morning(one?.at)).toSorted((a, b) => a - b))
}, 60_000) // prettier-ignore

test('what is expected sooner than the trigger looks ahead starts at once, where it says so', async () => {
  await importPast(world.db, SHOP, pelletBuyers())
  await reckonReorders(world.db, SHOP, START)
  const { trigger } = pelletReminder
  if (trigger.kind !== 'date') throw new Error('It goes by a date')
  await world.publish({
    ...pelletReminder,
    trigger: { ...trigger, days: 90, ifNearer: 'startAtOnce' },
  })
  await world.post(known('n1'), placed('n1', START, 'pellets'))
  expect((await world.mails()).map(({ to }) => to)).toEqual(['n1@example.org'])
})

test('what was expected half a year ago is held against what came', async () => {
  await importPast(world.db, SHOP, pelletBuyers())
  await reckonReorders(world.db, SHOP, START)
  const [row] = await rowsOf(
    world.db,
    z.object({ came: z.array(z.object({ days: z.int(), count: z.int() })), notYet: z.int() }),
    sql`select checked->'came' as came, (checked->>'notYet')::int as "notYet" from reorder_intervals
    where kind = 'product' and key = 'pellets'`,
  )
  const near = row?.came.filter(({ days }) => Math.abs(days) <= 10) ?? []
  const all = row?.came.reduce((sum, { count }) => sum + count, 0) ?? 0
  expect(all).toBeGreaterThan(200)
  expect(near.reduce((sum, { count }) => sum + count, 0) / all).toBeGreaterThan(0.85)
})

test('it is reckoned again once a week has passed, by one worker', async () => {
  expect(await reckonWhenDue(world.db, SHOP, START)).toBe(true)
  expect(await reckonWhenDue(world.db, SHOP, START + 1)).toBe(false)
  await world.settle()
  expect(await reckonWhenDue(world.db, SHOP, START + DAY_MS)).toBe(true)
  await importPast(world.db, SHOP, pelletBuyers())
  await world.settle()
  expect(await reckonWhenDue(world.db, SHOP, START + 6 * DAY_MS)).toBe(false)
  const both = [1, 2].map(() => reckonWhenDue(world.db, SHOP, START + 8 * DAY_MS))
  expect((await Promise.all(both)).filter(Boolean)).toHaveLength(1)
})
