import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { reckonWhenDue } from '../../backend/reorder/index.ts'
import { requestClockMove, setClock } from '../../backend/shop/index.ts'
import { pauseWorkflow, resumeWorkflow } from '../../backend/workflows/index.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../../testing/builders.ts'
import { addShop, makeWorld, SHOP, type World } from '../../testing/world.ts'
import { beginLettingIn } from './letIn.ts'
import { shopsWithWork } from './shopsWithWork.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
  await addShop(world.db, 'quiet')
  for (const shop of [SHOP, 'quiet']) {
    await setClock(world.db, shop, START)
    await reckonWhenDue(world.db, shop, START)
  }
  await world.settle()
  await world.db.execute(sql`update reorder_reckonings set next_at = ${START + 20 * DAY_MS}`)
})
afterEach(() => world.close())

const busy = () => shopsWithWork(world.db)
const mail = anEmail('m', { subject: 'Hello', body: 'Hello' })
const order = (at = START) => orderEvent('order.placed', at, { id: 'o1', customerId: 'c1' })

test('a shop in which nothing is due is left alone', async () => {
  expect(await busy()).toEqual([])
})

test('a run that is due', async () => {
  await world.publish(aDefinition({ steps: [wait('w', 'P1D'), mail] }))
  await world.post(order())
  expect(await busy()).toEqual([])
  await world.jumpTo(START + DAY_MS)
  expect(await busy()).toEqual([SHOP])
  await world.settle()
  expect(await busy()).toEqual([])
})

test('people who are still to go on after a pause', async () => {
  const id = await world.publish(aDefinition({ steps: [wait('w', 'P1D'), mail] }))
  await world.post(order(), orderEvent('order.placed', START, { id: 'o2', customerId: 'c2' }, { id: 'c2', email: 'c2@example.org' })) // prettier-ignore
  await pauseWorkflow(world.db, SHOP, id)
  await world.jumpTo(START + DAY_MS)
  await world.settle()
  expect(await busy()).toEqual([])
  await resumeWorkflow(world.db, SHOP, id, { most: 1 })
  expect(await busy()).toEqual([SHOP])
  await world.settle()
  expect(await busy()).toEqual([])
})

test('a date whose moment has come', async () => {
  const trigger = { kind: 'date', field: 'customer.lastOrderAt', direction: 'after', days: 2, at: '09:00', zone: 'shop' } as const // prettier-ignore
  await world.publish(aDefinition({ trigger, exclusions: [], steps: [mail] }))
  await world.settle()
  expect(await busy()).toEqual([])
  await world.jumpTo(START + DAY_MS)
  expect(await busy()).toEqual([SHOP])
  await world.settle()
  expect(await busy()).toEqual([])
})

test('people whose turn it is to be let in', async () => {
  await world.post(order(START - HOUR_MS))
  const id = await world.publish(aDefinition({ steps: [wait('w', 'P9D'), mail] }))
  expect(await busy()).toEqual([])
  await beginLettingIn(world.db, world.programs, SHOP, id, { days: 3, perHour: 100, person: 'Maren' }) // prettier-ignore
  expect(await busy()).toEqual([SHOP])
  await world.settle()
  expect(await busy()).toEqual([])
})

test('a message that is held back until now', async () => {
  const id = await world.publish(aDefinition({ steps: [mail] }))
  await world.post(order())
  await world.db.execute(sql`update messages set status = 'held', held_until = ${START + HOUR_MS}`)
  expect(await busy()).toEqual([])
  await world.jumpTo(START + HOUR_MS)
  expect(await busy()).toEqual([SHOP])
  await pauseWorkflow(world.db, SHOP, id)
  expect(await busy()).toEqual([])
})

test('a clock that is on its way, and a week that has passed since intervals were reckoned', async () => {
  await requestClockMove(world.db, SHOP, START + HOUR_MS)
  expect(await busy()).toEqual([SHOP])
  await setClock(world.db, SHOP, START + HOUR_MS)
  expect(await busy()).toEqual([])
  await setClock(world.db, 'quiet', START + 30 * DAY_MS)
  expect(await busy()).toEqual(['quiet'])
})
