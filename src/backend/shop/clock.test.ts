import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { HOUR_MS } from '../../core/shared/duration.ts'
import { START } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { tickClock } from './clock.ts'
import { readClock, requestClockMove, setClock, stopClock } from './index.ts'
import { shops } from './tables.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())
beforeEach(() => world.db.update(shops).set({ clockNow: START, clockTarget: null }))

test('a clock moved by hand stands until it is moved, forward only', async () => {
  expect(await readClock(world.db, SHOP)).toEqual({ now: START, movedByHand: true, target: null })
  await expect(requestClockMove(world.db, SHOP, START)).rejects.toThrow('moves forward only')
  await expect(requestClockMove(world.db, SHOP, START - 1)).rejects.toMatchObject({
    code: 'conflict',
  })
})

test('on its way it has a target, which is gone once reached', async () => {
  await requestClockMove(world.db, SHOP, START + 2 * HOUR_MS)
  await setClock(world.db, SHOP, START + HOUR_MS)
  expect(await readClock(world.db, SHOP)).toEqual({
    now: START + HOUR_MS,
    movedByHand: true,
    target: START + 2 * HOUR_MS,
  })
  await setClock(world.db, SHOP, START + 2 * HOUR_MS)
  expect(await readClock(world.db, SHOP)).toMatchObject({ target: null })
})

test('it can be stopped on its way, and stays where it is', async () => {
  await requestClockMove(world.db, SHOP, START + 2 * HOUR_MS)
  await setClock(world.db, SHOP, START + HOUR_MS)
  await stopClock(world.db, SHOP)
  expect(await readClock(world.db, SHOP)).toEqual({
    now: START + HOUR_MS,
    movedByHand: true,
    target: null,
  })
})

test('what happens by hand gets a second of its own', async () => {
  expect(await tickClock(world.db, SHOP)).toBe(START + 1000)
  expect(await tickClock(world.db, SHOP)).toBe(START + 2000)
})

test('a shop that goes by real time cannot be moved', async () => {
  await world.db.update(shops).set({ clockNow: null }).where(eq(shops.id, SHOP))
  const before = Date.now()
  const { now, movedByHand } = await readClock(world.db, SHOP)
  expect(movedByHand).toBe(false)
  expect(now).toBeGreaterThanOrEqual(before)
  await expect(requestClockMove(world.db, SHOP, now + HOUR_MS)).rejects.toThrow('goes by real time')
  expect(await tickClock(world.db, SHOP)).toBeGreaterThanOrEqual(now)
})

test('no such shop', async () => {
  await expect(readClock(world.db, 'nowhere')).rejects.toMatchObject({ code: 'not_found' })
})
