import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { EVENT_TYPES } from '../../core/events/eventTypes.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import { orderEvent, START } from '../../testing/builders.ts'
import { rowsOf } from '../platform/db.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import {
  actOnOrder,
  actOnSubscription,
  counterOrders,
  counterSubscriptions,
  happen,
  importPast,
  lastEvents,
  readClock,
  placeOrder,
} from './index.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
  await importPast(world.db, SHOP, [orderEvent('order.placed', START - DAY_MS, { id: 'old', number: '1000' })])
}) // prettier-ignore
afterAll(() => world.close())

const WHO = { customer: { id: 'c1' }, lines: [{ productId: 'p1', quantity: 2 }] }
const typesSince = async (count: number) => (await lastEvents(world.db, SHOP)).slice(0, count).map(({ what }) => what) // prettier-ignore

describe('everything that a trigger can start on happens at the counter', () => {
  test('baskets, checkouts, looks, reviews and subscriptions, each for somebody known', async () => {
    await happen(world.db, SHOP, { kind: 'basket', ...WHO })
    await happen(world.db, SHOP, { kind: 'checkout', ...WHO })
    await happen(world.db, SHOP, { kind: 'view', ...WHO })
    await happen(world.db, SHOP, { kind: 'review', stars: 2, text: 'Too soft', ...WHO })
    await happen(world.db, SHOP, { kind: 'subscription', ...WHO })
    expect(await typesSince(5)).toEqual(['subscription created', 'review submitted', 'product viewed', 'checkout started', 'item put in basket']) // prettier-ignore
    // Who is known stays known.
    expect(await world.customer()).toMatchObject({ firstName: 'Ines', emailConsent: true })
    const [checkout] = (await lastEvents(world.db, SHOP)).filter(({ what }) => what === 'checkout started') // prettier-ignore
    expect(checkout).toMatchObject({ customer: 'Ines Duarte', about: '€42.00' })
  })
  test('a subscription fails, pauses, goes on, renews, is cancelled and ends; then nothing more', async () => {
    const [subscription] = await counterSubscriptions(world.db, SHOP)
    const id = subscription?.id ?? ''
    const status = async () => (await counterSubscriptions(world.db, SHOP))[0]?.status
    for (const [action, then] of [['payment_failed', 'running'], ['paused', 'paused'], ['running', 'running'], ['renewed', 'running'], ['cancelled', 'cancelled'], ['ended', 'ended']] as const) {
      await actOnSubscription(world.db, SHOP, id, action)
      expect(await status()).toBe(then)
    }
    const [renewed] = await counterSubscriptions(world.db, SHOP)
    expect(renewed?.nextPaymentAt).toBeGreaterThan(subscription?.nextPaymentAt ?? Infinity)
    const { rows } = await world.db.execute(sql`select data->>'from' as was from events where type = 'subscription.status_changed' order by seq limit 1`)
    expect(rows).toEqual([{ was: 'running' }])
    await expect(actOnSubscription(world.db, SHOP, id, 'renewed')).rejects.toMatchObject({ code: 'conflict' })
    await expect(actOnSubscription(world.db, SHOP, 'none', 'renewed')).rejects.toMatchObject({ code: 'not_found' })
  }) // prettier-ignore
  test('a payment is moved a week sooner, up to tomorrow', async () => {
    await happen(world.db, SHOP, { kind: 'subscription', ...WHO })
    const newest = async () => (await counterSubscriptions(world.db, SHOP))[0]
    const before = await newest()
    const id = before?.id ?? ''
    await actOnSubscription(world.db, SHOP, id, 'sooner')
    expect(await newest()).toMatchObject({ status: 'running', nextPaymentAt: (before?.nextPaymentAt ?? 0) - 7 * DAY_MS })
    for (let week = 0; week < 5; week += 1) await actOnSubscription(world.db, SHOP, id, 'sooner')
    const { now } = await readClock(world.db, SHOP)
    expect((await newest())?.nextPaymentAt).toBeGreaterThan(now + DAY_MS - HOUR_MS)
    expect(await typesSince(1)).toEqual(['subscription changed'])
  }) // prettier-ignore
  test('somebody signs up, says no and yes, and what is known of them changes', async () => {
    const who = { customer: { email: 'lis@example.org', emailConsent: false } }
    await happen(world.db, SHOP, { kind: 'signsUp', ...who })
    await happen(world.db, SHOP, { kind: 'saysYes', ...who })
    await happen(world.db, SHOP, { kind: 'detailsChange', ...who })
    expect(await typesSince(3)).toEqual(['customer changed', 'consent changed', 'customer created'])
    const [row] = await rowsOf(world.db, z.object({
id: z.string(),
}), sql`select id from customers where email = 'lis@example.org'`) // prettier-ignore
    expect(await world.customer(row?.id)).toMatchObject({ emailConsent: true })
    await happen(world.db, SHOP, { kind: 'saysNo', ...who })
    expect(await world.customer(row?.id)).toMatchObject({ emailConsent: false })
  })
  test('an order is prepared and closed; a class is booked for its day', async () => {
    await actOnOrder(world.db, SHOP, 'old', 'paid')
    await actOnOrder(world.db, SHOP, 'old', 'problem')
    expect((await counterOrders(world.db, SHOP))[0]).toMatchObject({ status: 'problem' })
    await actOnOrder(world.db, SHOP, 'old', 'paid')
    await actOnOrder(world.db, SHOP, 'old', 'processing')
    expect((await counterOrders(world.db, SHOP))[0]).toMatchObject({ status: 'preparing' })
    await actOnOrder(world.db, SHOP, 'old', 'fulfilled')
    await actOnOrder(world.db, SHOP, 'old', 'completed')
    expect((await counterOrders(world.db, SHOP))[0]).toMatchObject({ status: 'closed' })
    await placeOrder(world.db, SHOP, { ...WHO, bookedFor: START + 9 * DAY_MS })
    const { rows } = await world.db.execute(sql`select starts_at from order_lines where starts_at is not null`) // prettier-ignore
    expect(rows).toEqual([{ starts_at: START + 9 * DAY_MS }])
  })
  test('and with that every type of event has come in, but for what becomes of messages', async () => {
    for (const action of ['delivered', 'cancelled', 'refunded', 'payment_failed'] as const) {
      await placeOrder(world.db, SHOP, WHO)
      const id = (await counterOrders(world.db, SHOP))[0]?.id ?? ''
      if (action === 'delivered') {
        await actOnOrder(world.db, SHOP, id, 'paid')
        await actOnOrder(world.db, SHOP, id, 'fulfilled')
      }
      if (action === 'refunded') await actOnOrder(world.db, SHOP, id, 'paid')
      await actOnOrder(world.db, SHOP, id, action)
    }
    await happen(world.db, SHOP, { kind: 'subscription', ...WHO })
    const trial = (await counterSubscriptions(world.db, SHOP))[0]?.id ?? ''
    await actOnSubscription(world.db, SHOP, trial, 'trial_ended')
    const rows = await rowsOf(
      world.db,
      z.object({
        type: z.string(),
      }),
      sql`select distinct type from events`,
    )
    const had = new Set(rows.map(({ type }) => type))
    const missing = EVENT_TYPES.filter((type) => !type.startsWith('message.') && !had.has(type))
    expect(missing).toEqual([])
  })
})
