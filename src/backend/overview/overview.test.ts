import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { aDefinition, anEmail, eventOf, orderEvent, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { rowsOf } from '../platform/db.ts'
import { forgetChanged } from '../changes/index.ts'
import { cohorts, mailHealth, pressure, sending } from './index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const who = (id: string) => ({ id, email: `${id}@example.org`, emailConsent: true })
const paid = (id: string, at: Instant, order = id) =>
  orderEvent('order.paid', at, { id: order, number: order, customerId: id }, who(id))
const placed = (id: string, order: string, at: Instant) =>
  orderEvent('order.placed', at, { id: order, number: order, customerId: id }, who(id))
const onPaid = (steps: Parameters<typeof aDefinition>[0]) =>
  aDefinition({ trigger: { kind: 'event', event: 'order.paid' }, ...steps })

test('a shop without a past has nothing to show, and nothing ahead', async () => {
  const shop = await world.shop()
  const { days, ahead } = await sending(world.db, shop, START)
  expect(days).toHaveLength(28)
  expect(days.every((day) => day.marketing + day.transactional === 0)).toBe(true)
  expect(ahead.reduce((sum, { expected }) => sum + expected, 0)).toBe(0)
  expect(await mailHealth(world.db, SHOP, START)).toEqual({ sent: 0, bounced: 0, delivered: 0, complained: 0 }) // prettier-ignore
  expect(await pressure(world.db, SHOP, START)).toEqual({ perWeek: [], most: [], meeting: [] })
  expect((await cohorts(world.db, shop, START)).cohorts).toEqual([])
})

test('each day has what left on it, by purpose; who is on their way is ahead', async () => {
  const shop = await world.shop()
  await world.publish(onPaid({ steps: [anEmail('first', { purpose: 'transactional' }), wait('w', 'P2D'), anEmail('second', { purpose: 'marketing' })] })) // prettier-ignore
  for (let day = 0; day < 6; day += 1) {
    if (day > 0) await world.moveTo(START + day * DAY_MS)
    await world.post(paid(`p${day}`, START + day * DAY_MS))
  }
  const now = START + 6 * DAY_MS
  await world.moveTo(now)
  const { days, ahead } = await sending(world.db, shop, now)
  const on = (date: string) => days.find((one) => one.date === date)
  expect(on('2026-04-14')).toMatchObject({ transactional: 1, marketing: 0 })
  expect(on('2026-04-17')).toMatchObject({ transactional: 1, marketing: 1 })
  // Today is not over, so it is the first of the days ahead: one comes, and one is on its way.
  expect(ahead[0]?.date).toBe('2026-04-20')
  expect(ahead[0]?.expected).toBeGreaterThan(1)
  expect(ahead[0]?.low).toBeLessThanOrEqual(ahead[0]?.expected ?? 0)
  // What is kept of days is what is counted anew.
  await forgetChanged(world.db, SHOP)
  expect((await world.db.execute(sql`select from sending_days`)).rows.length).toBeGreaterThan(180)
  const kept = await sending(world.db, shop, now)
  await world.db.execute(sql`delete from sending_days`)
  expect(kept).toEqual(await sending(world.db, shop, now))
})

test('what came back and who complained, of the mail of four weeks', async () => {
  await world.publish(onPaid({ steps: [anEmail('first')] }))
  await world.post(paid('a', START), paid('b', START), paid('c', START))
  await world.moveTo(START + HOUR_MS)
  const rows = await rowsOf(
    world.db,
    z.object({ id: z.string(), customer: z.string() }),
    sql`select message_id as id, customer_id as customer from messages order by customer_id`,
  )
  const about = (type: 'message.bounced' | 'message.complained', index: number) =>
    eventOf(type, START + HOUR_MS, { message: { customerId: rows[index]?.customer, id: rows[index]?.id } }) // prettier-ignore
  await world.post(about('message.bounced', 0), about('message.complained', 1))
  const now = START + 2 * HOUR_MS
  expect(await mailHealth(world.db, SHOP, now)).toEqual({ sent: 3, bounced: 1, delivered: 2, complained: 1 }) // prettier-ignore
  expect((await mailHealth(world.db, SHOP, now + 29 * DAY_MS)).sent).toBe(0)
})

test('how much people got, who most, and whose marketing met in them', async () => {
  const first = await world.publish(onPaid({ name: 'One', steps: [anEmail('a', { purpose: 'marketing' }), wait('w', 'P1D'), anEmail('b', { purpose: 'transactional' })] })) // prettier-ignore
  const second = await world.publish(aDefinition({ name: 'Two', trigger: { kind: 'event', event: 'order.fulfilled' }, steps: [anEmail('c', { purpose: 'marketing' })] })) // prettier-ignore
  await world.post(paid('a', START), paid('b', START))
  await world.moveTo(START + 2 * DAY_MS)
  await world.post(orderEvent('order.fulfilled', START + 2 * DAY_MS, { id: 'a', number: 'a', customerId: 'a' }, who('a'))) // prettier-ignore
  const now = START + 3 * DAY_MS
  await world.moveTo(now)
  const { perWeek, most, meeting } = await pressure(world.db, SHOP, now)
  expect(perWeek).toEqual([{ messages: 2, people: 1 }, { messages: 3, people: 1 }]) // prettier-ignore
  expect(most[0]).toMatchObject({ customerId: 'a', messages: 3, marketing: 2 })
  const pair = [first, second].toSorted()
  expect(meeting).toEqual([{ first: pair[0], second: pair[1], people: 1 }])
})

test('second orders are counted by the month of the first, up to each month’s end', async () => {
  const shop = await world.shop()
  await world.post(placed('a', 'a1', START), placed('b', 'b1', START))
  await world.moveTo(START + 40 * DAY_MS)
  await world.post(placed('a', 'a2', START + 40 * DAY_MS), placed('c', 'c1', START + 40 * DAY_MS))
  const now = START + 50 * DAY_MS
  await world.moveTo(now)
  expect((await cohorts(world.db, shop, now)).cohorts).toEqual([
    { month: '2026-04', people: 2, again: [0, 1, 1] },
    { month: '2026-05', people: 1, again: [0, 0] },
  ])
})
