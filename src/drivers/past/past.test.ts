import { afterEach, beforeEach, expect, test } from 'vitest'
import type { Condition } from '../../core/conditions/condition.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import {
  aCustomer,
  eventOf,
  happened,
  on,
  orderEvent,
  ordersEver,
  START,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import type { Trigger } from '../../core/workflow/trigger.ts'
import { countCombinations } from './combinations.ts'
import { countHolding } from './countHolding.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const total = (amountMinor: number): Condition => ({
  kind: 'field',
  field: 'order.total',
  op: 'gte',
  value: { amountMinor, currency: 'EUR' },
})
const isOf = (value: string): Condition => ({
  kind: 'field',
  field: 'line.category',
  op: 'is',
  value,
})

/** An order so many days ago. */
const order = (id: string, days: number, totalMinor: number, customerId = 'c1') =>
  orderEvent(
    'order.placed',
    START - days * DAY_MS,
    { id, number: id, customerId, totalMinor },
    { id: customerId },
  )

test('each subject is asked with what was known at its moment', async () => {
  await world.post(
    order('o1', 100, 9000),
    order('o2', 80, 9000),
    order('o3', 10, 1000),
    order('o4', 5, 5000, 'c2'),
  )
  const count = await countHolding(world.db, SHOP, on('order.placed'), [
    ordersEver(1),
    ordersEver(2),
    total(5000),
  ])
  // The first order of c1 is too long ago to be counted, but it counts in the history.
  expect(count).toEqual({
    of: 3,
    held: [1, 1, 2],
    first: [1, 1, 0],
    since: START - 90 * DAY_MS,
  })
})

test('the filter says who is counted; per line, each line is', async () => {
  await world.post(order('o1', 3, 9000), order('o2', 2, 1000))
  const filtered = on('order.placed', { filter: total(5000) })
  expect(await countHolding(world.db, SHOP, filtered, [total(0)])).toMatchObject({
    of: 1,
    held: [1],
  })
  const perLine = on('order.placed', { per: 'line' })
  const conditions = [isOf('Tools & smokers'), isOf('Hives')]
  expect(await countHolding(world.db, SHOP, perLine, conditions)).toMatchObject({
    of: 2,
    held: [2, 0],
  })
})

test('what was ordered together, and which path of a split it takes', async () => {
  const line = (category: string) => ({
    productId: category,
    title: category,
    category,
    quantity: 1,
    unitPriceMinor: 1000,
  })
  const of = (id: string, ...names: string[]) =>
    orderEvent('order.placed', START - DAY_MS, {
      id,
      number: id,
      totalMinor: names.length * 1000,
      lines: names.map(line),
    })
  await world.post(of('o1', 'Hives'), of('o2', 'Wear', 'Hives'), of('o3', 'Hives', 'Wear', 'Wear'))
  const has = (value: string): Condition => ({
    kind: 'field',
    field: 'order.categories',
    op: 'hasAny',
    value: [value],
  })
  const { combinations, since } = await countCombinations(world.db, SHOP, on('order.placed'), [has('Wear')]) // prettier-ignore
  expect(combinations).toEqual([
    { categories: ['Hives', 'Wear'], orders: 2, revenueMinor: 5000, paths: [2, 0] },
    { categories: ['Hives'], orders: 1, revenueMinor: 1000, paths: [0, 1] },
  ])
  expect(since).toBeNull()
})

test('asked some time after the start, it sees what happened up to then and no more', async () => {
  const refund = (id: string, days: number) =>
    orderEvent('order.refunded', START - days * DAY_MS, { id, number: id })
  await world.post(
    order('o1', 30, 9000),
    order('o2', 20, 9000),
    order('o3', 1, 9000),
    refund('o1', 28),
    refund('o2', 5),
    refund('o3', 0.5),
  )
  const refunded = happened('order.refunded')
  const heldAfter = async (days: number) =>
    (await countHolding(world.db, SHOP, on('order.placed'), [refunded], days * DAY_MS)).held
  expect(await heldAfter(0)).toEqual([0])
  // The refund of the second came later; the third has only lived for a day, up to now.
  expect(await heldAfter(7)).toEqual([2])
  expect(await heldAfter(21)).toEqual([3])
})

test('of a change of status only those from and to what the trigger asks for are counted', async () => {
  const change = (id: string, to: string) => {
    const placed = orderEvent('order.status_changed', START - DAY_MS, { id, number: id })
    return { ...placed, data: { ...placed.data, to } }
  }
  await world.post(change('o1', 'preparing'), change('o2', 'closed'))
  const trigger = on('order.status_changed', { to: ['closed'] })
  expect(await countHolding(world.db, SHOP, trigger, [total(0)])).toMatchObject({ of: 1 })
})

test('of a date, those are counted whose moment came, each with what was known then', async () => {
  const booked = (id: string, days: number, startsDays: number) => {
    const startsAt = new Date(START + startsDays * DAY_MS).toISOString()
    const lines = [
      { productId: 'kit', title: 'Kit', quantity: 1, unitPriceMinor: 1000 },
      { productId: 'class', title: 'Class', quantity: 1, unitPriceMinor: 9000, startsAt },
    ]
    return orderEvent('order.placed', START + days * DAY_MS, { id, number: id, lines })
  }
  const cancelled = orderEvent('order.cancelled', START - 8 * DAY_MS, { id: 'o2', number: 'o2' })
  await world.post(booked('o1', -30, -20), booked('o2', -20, -10), booked('o3', -4, -3), cancelled)
  await world.post(booked('o4', -3, 10))
  const trigger = (days: number, zone: 'shop' | 'recipient' = 'shop'): Trigger => ({
    kind: 'date', field: 'line.startsAt', direction: 'before', days, at: '08:00', zone,
  }) // prettier-ignore
  const late = (days: number): Condition => ({
    kind: 'field', field: 'line.startsAt', op: 'withinLast', value: days,
  }) // prettier-ignore
  // The third was booked too late, the fourth is still to come.
  const counted = await countHolding(
    world.db,
    SHOP,
    trigger(2),
    [isOf('None'), late(30)],
    5 * DAY_MS,
  )
  expect(counted).toMatchObject({ of: 2, held: [0, 2] })
  expect(await countHolding(world.db, SHOP, trigger(0, 'recipient'), [total(0)])).toMatchObject({
    of: 3,
  })
})

test('of customers: since when they are there, and their last order until the next', async () => {
  const created = eventOf('customer.created', START - 41 * DAY_MS, { customer: aCustomer() })
  await world.post(created, order('o1', 40, 9000), order('o2', 35, 9000))
  await world.post(order('o3', 20, 9000, 'c2'))
  const after = (field: string, days: number): Trigger => ({
    kind: 'date', field, direction: 'after', days, at: '08:00', zone: 'shop',
  }) // prettier-ignore
  // Ten days after the first order there was a second one.
  const lapsed = await countHolding(world.db, SHOP, after('customer.lastOrderAt', 10), [total(0)])
  expect(lapsed).toMatchObject({ of: 2, held: [0] })
  const since = await countHolding(world.db, SHOP, after('customer.createdAt', 30), [ordersEver(2)])
  expect(since).toMatchObject({ of: 1, held: [1] })
})
