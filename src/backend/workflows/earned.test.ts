import { afterEach, beforeEach, expect, test } from 'vitest'
import type { Condition } from '../../core/conditions/condition.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { earnedSince, numbersOf, numbersOfAll } from './index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const thanks = (event: 'order.paid' | 'order.fulfilled') =>
  aDefinition({ trigger: { kind: 'event', event }, steps: [anEmail('m')] })

const at = async (days: number, event: ReturnType<typeof orderEvent>) => {
  if (days > 0) await world.moveTo(START + days * DAY_MS)
  await world.post(event)
}
const order = (
  type: 'order.placed' | 'order.paid' | 'order.fulfilled' | 'order.refunded',
  id: string,
  days: number,
  totalMinor = 10_001,
) => orderEvent(type, START + days * DAY_MS, { id, number: id, totalMinor })

test('an order counts for the last message before it, up to seven days after', async () => {
  const first = await world.publish(thanks('order.paid'))
  const second = await world.publish(thanks('order.fulfilled'))
  await at(0, order('order.paid', 'o1', 0))
  await at(2, order('order.fulfilled', 'o1', 2))
  // Exactly seven days after the second message: the window's edge is in.
  await at(9, order('order.placed', 'o2', 9))
  // A millisecond over seven days after it.
  await world.moveTo(START + 9 * DAY_MS + 1)
  await world.post(
    orderEvent('order.placed', START + 9 * DAY_MS + 1, { id: 'o3', number: 'o3', totalMinor: 500 }),
  )
  const earned = await earnedSince(world.db, SHOP, START - DAY_MS)
  expect(earned.get(first)).toBeUndefined()
  expect(earned.get(second)).toEqual({ orders: 1, revenueMinor: 10_001 })
})

test('what was refunded counts for nothing, and neither does what came before the time asked about', async () => {
  const id = await world.publish(thanks('order.paid'))
  await at(0, order('order.paid', 'o1', 0))
  await at(1, order('order.placed', 'o2', 1))
  await at(3, order('order.placed', 'o3', 3, 700))
  const since = (days: number) => earnedSince(world.db, SHOP, START + days * DAY_MS)
  expect((await since(0)).get(id)).toEqual({ orders: 2, revenueMinor: 10_701 })
  expect((await since(2)).get(id)).toEqual({ orders: 1, revenueMinor: 700 })
  await at(4, order('order.refunded', 'o2', 4))
  expect((await since(0)).get(id)).toEqual({ orders: 1, revenueMinor: 700 })
})

const atLeast = (amountMinor: number): Condition => ({
  kind: 'field',
  field: 'order.total',
  op: 'gte',
  value: { amountMinor, currency: 'EUR' },
})

test('each message has its own orders, each path those of the runs that had taken it', async () => {
  const id = await world.publish(
    aDefinition({
      trigger: { kind: 'event', event: 'order.paid' },
      steps: [
        {
          key: 'split',
          kind: 'split',
          branches: [
            { key: 'big', name: 'Big', when: atLeast(10_000), steps: [anEmail('big'), wait('w', 'P2D'), anEmail('again')] }, // prettier-ignore
          ],
          otherwise: [anEmail('small')],
        },
      ],
    }),
  )
  const earned = async () => (await numbersOf(world.db, SHOP, id)).earned
  await at(0, order('order.paid', 'o1', 0, 20_000))
  expect(await earned()).toEqual({ steps: [], branches: [] })
  await at(1, order('order.placed', 'o2', 1, 300))
  await at(3, order('order.placed', 'o3', 3, 4_000))
  await at(3.5, order('order.placed', 'o4', 3.5, 1_000))
  await at(4, order('order.paid', 'o5', 4, 900))
  await at(5, order('order.placed', 'o6', 5, 50))
  const { steps, branches } = await earned()
  expect(steps.toSorted((a, b) => a.step.localeCompare(b.step))).toEqual([
    { step: 'again', orders: 2, revenueMinor: 5_000 },
    { step: 'big', orders: 1, revenueMinor: 300 },
    { step: 'small', orders: 1, revenueMinor: 50 },
  ])
  expect(branches.toSorted((a, b) => b.orders - a.orders)).toEqual([
    { step: 'split', branch: 'big', orders: 3, revenueMinor: 5_300 },
    { step: 'split', branch: null, orders: 1, revenueMinor: 50 },
  ])
})

test('the other numbers can be asked for from a time on', async () => {
  const id = await world.publish(thanks('order.paid'))
  await at(0, order('order.paid', 'o1', 0))
  await at(5, order('order.paid', 'o2', 5))
  const all = await numbersOfAll(world.db, SHOP, null)
  const late = await numbersOfAll(world.db, SHOP, START + DAY_MS)
  expect([all.get(id)?.sent, late.get(id)?.sent]).toEqual([2, 1])
})
