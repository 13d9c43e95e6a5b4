import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { eq, sql } from 'drizzle-orm'
import { saveShopRules } from '../../backend/shop/index.ts'
import { shops } from '../../backend/shop/tables.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { START } from '../../testing/builders.ts'
import { definitions } from '../../testing/model/arbitraries.ts'
import {
  happenings,
  shopRules,
  toEvent,
  type Happening,
  type ModelShopRules,
} from '../../testing/model/happenings.ts'
import { naively } from '../../testing/model/naive.ts'
import { traceOf, type Trace } from '../../testing/model/trace.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())

let cases = 0

/** The model's history in PostgreSQL: events posted at their times while the clock moves. */
async function liveThrough(
  definition: Definition,
  list: readonly Happening[],
  rules: ModelShopRules,
): Promise<Trace[]> {
  await world.db.execute(
    sql`truncate events, customers, products, orders, order_lines, reviews, workflows,
      workflow_versions, runs, ledger, messages, coupons, mails`,
  )
  await world.db.execute(sql`update shops set clock_now = ${START}, clock_target = null`)
  await saveShopRules(world.db, SHOP, rules)
  const holdouts = rules.holdout ? [{ ...rules.holdout, until: null }] : []
  await world.db.update(shops).set({ holdouts }).where(eq(shops.id, SHOP))
  // A version never changes, so every case is a workflow of its own.
  const id = `w${(cases += 1)}`
  // Straight in, since any document may run, also one that the go-live check would stop.
  const document = JSON.stringify(definition)
  await world.db.execute(
    sql`insert into workflows values (${SHOP}, ${id}, 'live', ${document}::jsonb, 0, 1, 0, 0)`,
  )
  await world.db.execute(
    sql`insert into workflow_versions values (${SHOP}, ${id}, 1, ${document}::jsonb, 0, 'test')`,
  )
  for (const [index, happening] of list.entries()) {
    if (happening.arrivesAt !== list[index - 1]?.arrivesAt) await world.moveTo(happening.arrivesAt)
    // A sender that got no answer hands in the one before again, in front of the new one or behind it.
    const again = list.slice(Math.max(0, index - 1), index).map((one) => toEvent(one, index - 1))
    const event = toEvent(happening, index)
    await world.post(...(index % 2 === 0 ? [...again, event] : [event, ...again]))
  }
  await world.moveTo(START + 600 * DAY_MS)
  return (await world.ledger()).flatMap(({ at, ...entry }) => traceOf(at, entry) ?? [])
}

/**
 * Whether somebody is in a workflow now may change between a decision and the hand-over a moment
 * later, at which it is asked again, as it should be; the models hand over at once.
 */
const asksWhoIsIn = (definition: Definition): boolean =>
  JSON.stringify(definition).includes('"kind":"workflows"')

test('the live driver decides what the naive interpreter decides, at the same times (property)', async () => {
  await fc.assert(
    fc.asyncProperty(
      definitions.filter((one) => !asksWhoIsIn(one)),
      happenings,
      shopRules,
      async (definition, list, rules) => {
        expect(await liveThrough(definition, list, rules)).toEqual(naively(definition, list, rules))
      },
    ),
    { numRuns: 60 },
  )
}, 180_000)
