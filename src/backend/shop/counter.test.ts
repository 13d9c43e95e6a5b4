import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { AppError } from '../platform/errors.ts'
import { orderEvent, START } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import {
  actOnOrder,
  counterCustomers,
  counterOrders,
  counterProducts,
  importPast,
  placeOrder,
} from './index.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())
beforeEach(async () => {
  await world.db.execute(sql`truncate events, customers, products, orders, order_lines`)
  await world.db.execute(sql`update shops set clock_now = ${START}`)
  await importPast(world.db, SHOP, [
    orderEvent('order.placed', START - 1000, { id: 'old', number: '1000' }),
  ])
})

const lines = [{ productId: 'p1', quantity: 3 }]
const someoneNew = { email: 'New.Person@Example.org', firstName: 'Nuno', emailConsent: false }
const newest = async () => (await counterOrders(world.db, SHOP))[0]

test('an order for somebody known: priced by the shop, numbered onward, a second later than the last', async () => {
  const number = await placeOrder(world.db, SHOP, { customer: { id: 'c1' }, lines })
  expect(number).toBe('1001')
  expect(await newest()).toMatchObject({
    number,
    customer: 'Ines Duarte',
    status: 'placed',
    totalMinor: 6300,
    items: 3,
    at: START + 1000,
  })
})

test('somebody new becomes a customer; the same address again is the same person', async () => {
  await placeOrder(world.db, SHOP, { customer: someoneNew, lines })
  await placeOrder(world.db, SHOP, {
    customer: { ...someoneNew, email: 'new.person@example.ORG', firstName: 'Other' },
    lines,
  })
  const found = await counterCustomers(world.db, SHOP, 'new.person')
  expect(found).toMatchObject([{ name: 'Nuno', orders: 2 }])
})

test.each([
  [
    'a customer who does not exist',
    { customer: { id: 'nobody' }, lines },
    'There is no such customer.',
  ],
  [
    'a product that does not exist',
    { customer: { id: 'c1' }, lines: [{ productId: 'x', quantity: 1 }] },
    'One of the products does not exist.',
  ],
])('%s', async (_what, body, message) => {
  await expect(placeOrder(world.db, SHOP, body)).rejects.toThrow(message)
  expect(await counterOrders(world.db, SHOP)).toHaveLength(1)
})

test('a search takes % and _ as they are', async () => {
  expect(await counterCustomers(world.db, SHOP, '%')).toEqual([])
  expect(await counterCustomers(world.db, SHOP, 'ines_')).toEqual([])
  expect(await counterCustomers(world.db, SHOP, 'DUARTE')).toHaveLength(1)
  expect(await counterProducts(world.db, SHOP)).toMatchObject([{ title: 'Bee brush' }])
})

describe('what can happen to an order', () => {
  test('paid, fulfilled with a tracking link, refunded, and then nothing more', async () => {
    for (const action of ['paid', 'fulfilled', 'refunded'] as const) {
      await actOnOrder(world.db, SHOP, 'old', action)
      expect(await newest()).toMatchObject({ status: action })
    }
    const { rows } = await world.db.execute(sql`select tracking_url, placed_at, as_of from orders`)
    expect(rows).toEqual([
      {
        tracking_url: 'https://parcels.example/1000',
        placed_at: START - 1000,
        as_of: START + 3000,
      },
    ])
    await expect(actOnOrder(world.db, SHOP, 'old', 'paid')).rejects.toThrow(
      'Order 1000 is refunded; that cannot happen to it now.',
    )
  })
  test('a failed payment can be made good', async () => {
    await actOnOrder(world.db, SHOP, 'old', 'payment_failed')
    await actOnOrder(world.db, SHOP, 'old', 'payment_failed')
    await actOnOrder(world.db, SHOP, 'old', 'paid')
    expect(await newest()).toMatchObject({ status: 'paid' })
  })
  test('a cancelled order is not fulfilled', async () => {
    await actOnOrder(world.db, SHOP, 'old', 'cancelled')
    await expect(actOnOrder(world.db, SHOP, 'old', 'fulfilled')).rejects.toThrow(AppError)
  })
  test('an order that does not exist', async () => {
    await expect(actOnOrder(world.db, SHOP, 'nope', 'paid')).rejects.toMatchObject({
      code: 'not_found',
    })
  })
})
