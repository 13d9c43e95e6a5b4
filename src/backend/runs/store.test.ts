import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { HOUR_MS } from '../../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { claimDue } from './store.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
  await world.publish(aDefinition({ steps: [wait('w', 'PT1H'), anEmail('m')] }))
  const order = (id: string) =>
    orderEvent('order.placed', START, { id, number: id, customerId: id }, { id })
  await world.post(order('a'), order('b'), order('c'))
})
afterEach(() => world.close())

test('a run is due at its very moment, and not before', async () => {
  const due = async (now: number) => (await claimDue(world.db, SHOP, now, 10)).length
  expect(await due(START + HOUR_MS - 1)).toBe(0)
  expect(await due(START + HOUR_MS)).toBe(3)
})

test('two workers at once get other runs, and neither waits for the other', async () => {
  const now = START + HOUR_MS
  await world.db.transaction(async (first) => {
    const mine = await claimDue(first, SHOP, now, 2)
    const others = await world.db.transaction(async (second) => {
      // Whoever waited would wait for ever here.
      await second.execute(sql`set local lock_timeout = '2s'`)
      return claimDue(second, SHOP, now, 10)
    })
    expect(mine).toHaveLength(2)
    expect(others).toHaveLength(1)
    expect(new Set([...mine, ...others].map(({ id }) => id)).size).toBe(3)
  })
})
