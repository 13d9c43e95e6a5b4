import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { isHeldOut } from '../../core/workflow/shopHoldout.ts'
import { aDefinition, anEmail, orderEvent, START } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { labelMany } from '../people/index.ts'
import { rowsOf } from '../platform/db.ts'
import { saveHoldout } from '../shop/index.ts'
import { holdoutReports } from './index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const PEOPLE = Array.from({ length: 20 }, (_, index) => `p${index}`)
const who = (id: string) => ({
  id,
  email: `${id}@example.org`,
  emailConsent: true,
})
const order = (type: 'order.paid' | 'order.placed', id: string, at: Instant, number: string, totalMinor = 1000) =>
  orderEvent(type, at, { id: number, number, customerId: id, totalMinor }, who(id)) // prettier-ignore

const MARKETING = aDefinition({
  trigger: { kind: 'event', event: 'order.paid' },
  steps: [anEmail('receipt'), anEmail('more', { purpose: 'marketing' })],
})

test('who is held out gets what belongs to their order, no marketing, and counts from when it would have left', async () => {
  await saveHoldout(world.db, SHOP, { percent: 50 })
  await world.publish(MARKETING)
  await world.post(...PEOPLE.map((id) => order('order.paid', id, START, id)))
  await world.moveTo(START + HOUR_MS)
  const held = (id: string) => isHeldOut({ percent: 50, since: START }, { id, lists: [] }, START)
  const entries = await rowsOf(
    world.db,
    z.object({ customerId: z.string(), entry: z.looseObject({ kind: z.string() }) }),
    sql`select customer_id as "customerId", entry from ledger where shop_id = ${SHOP}`,
  )
  for (const id of PEOPLE) {
    const own = entries.filter(({ customerId }) => customerId === id).map(({ entry }) => entry)
    expect(own).toContainEqual(expect.objectContaining({ kind: 'sends', step: 'receipt' }))
    expect(own).toContainEqual(
      held(id)
        ? expect.objectContaining({ kind: 'skipped', step: 'more', reason: { code: 'holdout' } })
        : expect.objectContaining({ kind: 'sends', step: 'more' }),
    )
  }
  const [out] = PEOPLE.filter(held)
  const [other] = PEOPLE.filter((id) => !held(id))
  if (!out || !other) throw new Error('The draw left one side empty')
  // In time, on its last moment, too late.
  await world.post(order('order.placed', other, START + HOUR_MS, 'n1', 3000))
  await world.moveTo(START + 30 * DAY_MS)
  await world.post(order('order.placed', out, START + 30 * DAY_MS, 'n2', 2000))
  await world.moveTo(START + 31 * DAY_MS)
  await world.post(order('order.placed', other, START + 31 * DAY_MS, 'n3', 7000))
  const [report, ...others] = await holdoutReports(world.db, SHOP, START + 32 * DAY_MS)
  expect(others).toEqual([])
  const drawn = PEOPLE.filter(held).length
  expect(report?.arms).toMatchObject([
    { key: 'marketing', weight: 50, people: PEOPLE.length - drawn, ordered: 1, uncutMinor: 3000 },
    { key: 'holdout', weight: 50, holdout: true, people: drawn, ordered: 1, uncutMinor: 2000 },
  ])
  expect(report?.attributedMinor).toBe(3000)
})

test('another share is another holdout with a draw of its own; the one before stays', async () => {
  const at = START + DAY_MS
  await saveHoldout(world.db, SHOP, { percent: 50 })
  await world.moveTo(at)
  await saveHoldout(world.db, SHOP, { percent: 50 })
  await saveHoldout(world.db, SHOP, { percent: 20 })
  const reports = await holdoutReports(world.db, SHOP, at)
  expect(reports.map(({ from, until, arms }) => [from, until, arms[1]?.weight])).toEqual([
    [at, null, 20],
    [START, at, 50],
  ])
  await saveHoldout(world.db, SHOP, null)
  const [last] = await holdoutReports(world.db, SHOP, at)
  expect(last?.until).toBe(at)
  const first = PEOPLE.map((id) => isHeldOut({ percent: 50, since: START }, { id, lists: [] }, at))
  expect(
    PEOPLE.map((id) => isHeldOut({ percent: 50, since: at }, { id, lists: [] }, at)),
  ).not.toEqual(first)
  expect(
    PEOPLE.some((id) => isHeldOut({ percent: 50, since: at + 1 }, { id, lists: [] }, at)),
  ).toBe(false)
})

test('among those on a list: nobody else is held out, and nobody else counts', async () => {
  const on = PEOPLE.slice(0, 12)
  const off = PEOPLE.slice(12)
  await world.post(...PEOPLE.map((id) => order('order.placed', id, START, `first ${id}`)))
  await labelMany(world.db, SHOP, { names: on, label: { did: 'list', name: 'fair', change: 'add' }, person: 'Maren' }) // prettier-ignore
  await saveHoldout(world.db, SHOP, { percent: 50, list: 'fair' })
  await world.publish(MARKETING)
  await world.post(...PEOPLE.map((id) => order('order.paid', id, START, id)))
  await world.moveTo(START + HOUR_MS)
  const rows = await rowsOf(world.db, z.object({ id: z.string() }), sql`select customer_id as id from ledger
    where shop_id = ${SHOP} and kind = 'skipped' and entry->'reason'->>'code' = 'holdout'`)
  const held = rows.map(({ id }) => id)
  expect(held.length).toBeGreaterThan(0)
  expect(held.filter((id) => off.includes(id))).toEqual([])
  const [report] = await holdoutReports(world.db, SHOP, START + 32 * DAY_MS)
  expect(report).toMatchObject({ name: 'Holdout among “fair”', arms: [{ people: on.length - held.length }, { people: held.length }] })
}) // prettier-ignore
