import { eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { armFor, rollOf } from '../../core/workflow/arms.ts'
import type { ExperimentStep } from '../../core/workflow/steps.ts'
import { aDefinition, anEmail, eventOf, orderEvent, START } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { rowsOf } from '../platform/db.ts'
import { decideTest, goLive, listTestDecisions, saveDraft, workflowExperiments } from './index.ts'
import { workflows } from './tables.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const ARMS = [
  { key: 'letter', name: 'A letter', weight: 60, steps: [anEmail('letter')] },
  { key: 'none', name: 'None', weight: 40, holdout: true, steps: [] },
]
const experiment: ExperimentStep = {
  key: 'test',
  kind: 'experiment',
  name: 'A letter or none',
  lottery: 'l',
  plan: { measure: 'ordered', windowDays: 10, least: 0.05 },
  arms: ARMS,
}
const definition = (step = experiment) =>
  aDefinition({ trigger: { kind: 'event', event: 'order.paid' }, steps: [step] })
const who = (id: string) => ({ id, email: `${id}@example.org` })
const paid = (id: string, at: Instant, order = id) =>
  orderEvent('order.paid', at, { id: order, number: order, customerId: id }, who(id))
const placed = (id: string, order: string, at: Instant, totalMinor: number) =>
  orderEvent('order.placed', at, { id: order, number: order, customerId: id, totalMinor }, who(id))

const report = async (workflowId: string, now: Instant) => {
  const { reports, earlier } = await workflowExperiments(world.db, { shopId: SHOP, workflowId, now }) // prettier-ignore
  return { report: reports[0], earlier }
}

test('everybody drawn counts for their arm from the draw, in equal windows, also who got nothing', async () => {
  const id = await world.publish(definition())
  const people = Array.from({ length: 24 }, (_, index) => `p${index}`)
  await world.post(...people.map((one) => paid(one, START)))
  // At the draw itself, in time, on the last moment, too late; by whom it was counted once already.
  const orders = [
    ['p0', START],
    ['p1', START + DAY_MS],
    ['p2', START + 10 * DAY_MS],
    ['p3', START + 10 * DAY_MS + 1000],
    ['p1', START + 2 * DAY_MS],
  ] as const
  let clock = START
  for (const [index, [customer, at]] of orders.entries()) {
    if (at > clock) await world.moveTo(at)
    clock = Math.max(clock, at)
    await world.post(placed(customer, `o${index}`, at, 1000 * (index + 1)))
  }
  const now = START + 11 * DAY_MS
  await world.moveTo(now)
  // Who comes back is drawn for the first time still.
  await world.post(paid('p1', now, 'again'), paid('late', now))
  const { report: told } = await report(id, now)
  const armOf = (customer: string) => armFor(ARMS, rollOf('l', customer)).key
  for (const arm of told?.arms ?? []) {
    const own = people.filter((one) => armOf(one) === arm.key)
    const did = ['p1', 'p2'].filter((one) => armOf(one) === arm.key)
    const spent: Record<string, number> = { p1: 2000 + 5000, p2: 3000 }
    const each = did.map((one) => spent[one] ?? 0)
    expect(arm).toMatchObject({
      people: own.length,
      drawn: own.length + (armOf('late') === arm.key ? 1 : 0),
      ordered: did.length,
      revenueMinor: each.reduce((sum, one) => sum + one, 0),
      revenueSquares: each.reduce((sum, one) => sum + one ** 2, 0),
    })
  }
  expect(told?.arms.map(({ key }) => key)).toEqual(['letter', 'none'])
  expect(told?.perDay).toBeGreaterThan(0)
})

test('reviews, clicks and unsubscribing count in the window; dear orders are cut', async () => {
  const id = await world.publish(definition())
  const people = Array.from({ length: 6 }, (_, index) => `p${index}`)
  await world.post(...people.map((one) => paid(one, START)))
  await world.moveTo(START + HOUR_MS)
  const [message] = await rowsOf(
    world.db,
    z.object({ id: z.string(), customer: z.string() }),
    sql`select message_id as id, customer_id as customer from messages order by id limit 1`,
  )
  const customerId = message?.customer ?? ''
  await world.post(
    eventOf('message.clicked', START + HOUR_MS, { message: { customerId, id: message?.id } }),
    eventOf('message.unsubscribed', START + HOUR_MS, { message: { customerId, id: message?.id } }),
    eventOf('review.submitted', START + HOUR_MS, { review: { id: 'r', customerId, stars: 5 } }),
  )
  await world.post(placed(customerId, 'dear', START + HOUR_MS, 900_000))
  const now = START + 11 * DAY_MS
  await world.moveTo(now)
  const { report: told } = await report(id, now)
  const letter = told?.arms.find(({ key }) => key === 'letter')
  expect(letter).toMatchObject({ clicked: 1, reviewed: 1, unsubscribed: 1, uncutMinor: 900_000 })
  expect(letter?.revenueMinor).toBe(Math.min(900_000, told?.cutMinor ?? 0))
})

test('changed arms begin a new period; the earlier one stays', async () => {
  const id = await world.publish(definition())
  await world.post(paid('a', START))
  await world.moveTo(START + DAY_MS)
  const even = { ...experiment, arms: ARMS.map((arm) => ({ ...arm, weight: 50 })) }
  await goLive(
    world.db,
    SHOP,
    id,
    await saveDraft(world.db, SHOP, id, 0, definition(even)),
    'maren',
  )
  await world.post(paid('b', START + DAY_MS))
  const { report: told, earlier } = await report(id, START + 2 * DAY_MS)
  const drawn = (one: typeof told) => one?.arms.reduce((sum, arm) => sum + arm.drawn, 0)
  expect([told?.versions, drawn(told)]).toEqual([[2], 1])
  expect(earlier.map((one) => [one.versions, drawn(one), one.until !== null])).toEqual([[[1], 1, true]]) // prettier-ignore
})

test('others that part the same people are named, with whether they draw alike', async () => {
  const id = await world.publish(definition())
  const same = await world.publish(definition({ ...experiment, key: 'same' }))
  const other = await world.publish(definition({ ...experiment, key: 'other', lottery: 'm' }))
  await world.post(paid('a', START), paid('b', START))
  const { report: told } = await report(id, START + DAY_MS)
  expect(told?.touching).toHaveLength(2)
  expect(told?.touching).toEqual(
    expect.arrayContaining([
      { workflowId: same, step: 'same', people: 2, isSameDraw: true },
      { workflowId: other, step: 'other', people: 2, isSameDraw: false },
    ]),
  )
})

test('a decision makes a draft in which everybody takes the arm, and keeps its figures', async () => {
  const id = await world.publish(definition())
  await world.post(paid('a', START))
  const { report: told } = await report(id, START + DAY_MS)
  if (!told) throw new Error('no report')
  const draft = async () => {
    const [row] = await world.db.select().from(workflows).where(eq(workflows.id, id))
    return row
  }
  const revision = (await draft())?.draftRevision ?? 0
  const decided = { shopId: SHOP, workflowId: id, userId: 'maren', arm: 'letter', note: 'Why not.', report: told } // prettier-ignore
  await expect(decideTest(world.db, { ...decided, revision: revision + 7 })).rejects.toMatchObject({ code: 'conflict' }) // prettier-ignore
  expect(await listTestDecisions(world.db, SHOP, id)).toEqual([])
  await decideTest(world.db, { ...decided, revision })
  expect((await draft())?.draft.steps).toEqual(ARMS[0]?.steps)
  expect(await listTestDecisions(world.db, SHOP, id)).toMatchObject([{ arm: 'letter', note: 'Why not.', report: told }]) // prettier-ignore
  await expect(decideTest(world.db, { ...decided, revision: revision + 1 })).rejects.toMatchObject({ code: 'not_found' }) // prettier-ignore
})
