import { afterEach, beforeEach, expect, test } from 'vitest'
import type { ProductsBlock } from '../../core/blocks/blocks.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { aCustomer, eventOf, orderEvent, START } from '../../testing/builders.ts'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { Recommender } from './index.ts'

let world: World
let recommender: Recommender
beforeEach(async () => {
  recommender = new Recommender()
  world = await makeWorld()
})
afterEach(() => world.close())

/** An order of some products, each in the category its first letter names. */
const order = (id: string, days: number, products: string, customerId = 'other') =>
  orderEvent(
    'order.placed',
    START - days * DAY_MS,
    {
      id,
      number: id,
      customerId,
      lines: products.split(' ').map((one) => ({
        productId: one,
        title: one.toUpperCase(),
        category: one.slice(0, 1),
        quantity: 1,
        unitPriceMinor: 1000,
      })),
    },
    { id: customerId },
  )
const viewed = (productId: string, days: number, over: object = {}) =>
  eventOf('product.viewed', START - days * DAY_MS, {
    product: { customerId: 'other', productId, title: productId, ...over },
    customer: aCustomer({ id: 'other' }),
  })

const shown = async (by: ProductsBlock['by'], about: string[] = [], count = 3) => {
  const lines = about.map((productId) => aLine({ productId }))
  const found = await recommender.recommend(world.db, SHOP, { by, count }, facts({ order: { lines }, customer: { id: 'me' } })) // prettier-ignore
  return found.map(({ id }) => id)
}

beforeEach(async () => {
  await world.post(
    order('o1', 300, 'a1 a2'),
    order('o2', 290, 'a1 a2'),
    order('o3', 280, 'a1 a2'),
    order('o4', 60, 'b1'),
    order('o5', 50, 'b1'),
    order('o6', 40, 'b1 c1'),
    order('o7', 10, 'b2'),
    order('o8', 9, 'b2'),
    order('o9', 8, 'a3'),
    order('o10', 7, 'd1'),
  )
})

test('best sellers of 90 days, the newest, the most looked at', async () => {
  await world.post(viewed('c1', 3), viewed('c1', 2), viewed('a2', 1), viewed('a1', 40))
  expect(await shown('best')).toEqual(['b1', 'b2', 'a3'])
  expect(await shown('newest', [], 2)).toEqual(['d1', 'a3'])
  expect(await shown('viewed', [], 2)).toEqual(['c1', 'a2'])
})

test('bought together with what it is about, then best sellers', async () => {
  expect(await shown('together', ['a1'])).toEqual(['a2', 'b1', 'b2'])
  expect(await shown('together', ['a1'], 1)).toEqual(['a2'])
})

test('like what was bought before: of the same categories, and not again', async () => {
  await world.post(order('m1', 200, 'b2', 'me'))
  expect(await shown('similar', [], 1)).toEqual(['b1'])
})

test('never what was just bought, what it is about, or what is out of stock', async () => {
  await world.post(order('m1', 3, 'b2', 'me'), viewed('a3', 1, { inStock: false }))
  expect(await shown('best', ['b1'])).toEqual(['c1', 'd1'])
  // Back in stock; an older view of it that comes late says nothing new.
  await world.moveTo(START + DAY_MS)
  await world.post(viewed('a3', 0.5, { inStock: true }), viewed('a3', 0.8, { inStock: false }))
  const later = facts({ now: START + DAY_MS, customer: { id: 'me' }, order: { lines: [] } })
  const found = await recommender.recommend(world.db, SHOP, { by: 'best', count: 9 }, later)
  expect(found.map(({ id }) => id)).toContain('a3')
})

test('cancelled orders sell nothing; with nothing to show, nothing is shown', async () => {
  await world.post(...['o4', 'o5', 'o6'].map((id) => orderEvent('order.cancelled', START, { id, number: id, customerId: 'other' }))) // prettier-ignore
  expect(await shown('best', [], 1)).toEqual(['b2'])
  await world.db.execute('update products set in_stock = false')
  const later = facts({ now: START + DAY_MS, order: { lines: [] } })
  expect(await recommender.recommend(world.db, SHOP, { by: 'best', count: 3 }, later)).toEqual([])
})
