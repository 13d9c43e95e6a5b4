import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { addShop, makeWorld, SHOP, type World } from '../../testing/world.ts'
import { claimRound } from './rounds.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

/** Lets so much real time pass for the rounds. */
const pass = (ms: number) => world.db.execute(sql`update shop_rounds set at = at - ${ms}::bigint`)

/** Claims until nothing is left, as several workers at once. */
async function claimAll(kind: 'count' | 'watch', workers = 1): Promise<string[]> {
  const claims = await Promise.all(
    Array.from({ length: workers }, async () => {
      const own: string[] = []
      for (;;) {
        const some = await claimRound(world.db, kind)
        if (some.length === 0) return own
        own.push(...some)
      }
    }),
  )
  return claims.flat().toSorted()
}

test('each shop has one turn in a round, however many workers there are', async () => {
  for (let index = 0; index < 40; index += 1) await addShop(world.db, `shop${index}`)
  const turns = await claimAll('watch', 4)
  expect(turns).toHaveLength(41)
  expect(new Set(turns).size).toBe(41)
  expect(await claimAll('watch', 2)).toEqual([])
  await pass(5 * MINUTE_MS)
  expect(await claimAll('watch', 4)).toHaveLength(41)
})

test('a shop is counted when something has changed, and once a day for what it keeps no longer', async () => {
  expect(await claimAll('count')).toEqual([SHOP])
  await world.db.execute(sql`update shops set retained_at = 1`)
  await pass(2 * MINUTE_MS)
  expect(await claimAll('count')).toEqual([])
  await world.db.execute(
    sql`insert into changes (shop_id, customer_id, at) values (${SHOP}, 'c', 1)`,
  )
  expect(await claimAll('count')).toEqual([SHOP])
  // At most once a minute.
  expect(await claimAll('count')).toEqual([])
  await world.db.execute(sql`delete from changes`)
  await pass(DAY_MS)
  expect(await claimAll('count')).toEqual([SHOP])
  // What is kept how long has been changed.
  await world.db.execute(sql`update shops set retained_at = null`)
  await pass(2 * MINUTE_MS)
  expect(await claimAll('count')).toEqual([SHOP])
})
