import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS } from '../../../core/shared/duration.ts'
import { seededRandom } from '../../../core/shared/seededRandom.ts'
import type { EventType } from '../../../core/events/eventTypes.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { aDefinition, anEmail, eventOf, happened, orderEvent, START, wait } from '../../../testing/builders.ts' // prettier-ignore
import { makeWorld, SHOP, type World } from '../../../testing/world.ts'
import { forgetChanged } from '../../changes/index.ts'
import { countRolledUp, daysHolding, peopleBehind, resultsWithNumbers } from '../index.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const ZONE = 'Europe/Lisbon'
const PEOPLE = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h']

const followUp = aDefinition({
  trigger: { kind: 'event', event: 'order.placed' },
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    anEmail('first', { name: 'First' }),
    wait('w', 'P3D'),
    {
      key: 'by-consent',
      kind: 'split',
      branches: [{ key: 'yes', name: 'Yes', when: { kind: 'field', field: 'customer.emailConsent', op: 'is', value: true }, steps: [anEmail('second', { purpose: 'marketing' })] }],
      otherwise: [],
    },
  ],
}) // prettier-ignore

const REPORTED: Readonly<Record<string, EventType>> = {
  open: 'message.opened',
  click: 'message.clicked',
  bounce: 'message.bounced',
  unsubscribe: 'message.unsubscribed',
}

let orders = 0
const order = (type: 'order.placed' | 'order.refunded', id: string, by: string, at: Instant) =>
  orderEvent(type, at, { id, number: id, customerId: by, totalMinor: 1000 }, { id: by, email: `${by}@example.org`, emailConsent: by < 'f' }) // prettier-ignore

/** The results as they are asked for on the screen, and as they are counted from scratch. */
async function bothWays(workflowId: string, now: Instant, over: object = {}) {
  const asked = { shopId: SHOP, workflowId, from: now - 20 * DAY_MS, to: now + 1, windowDays: 7, now, ...over } // prettier-ignore
  await forgetChanged(world.db, SHOP)
  const kept = await world.db.transaction((tx) => resultsWithNumbers(tx, asked, (db, one) => countRolledUp(db, ZONE, one))) // prettier-ignore
  return { kept: inOrder(kept), scratch: inOrder(await resultsWithNumbers(world.db, asked)) }
}

/** Lists and keys in an order that says nothing. */
function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) {
    return value.map(inOrder).toSorted((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1))
  }
  if (value === null || typeof value !== 'object') return value
  const entries = Object.entries(value).toSorted(([a], [b]) => (a < b ? -1 : 1))
  return Object.fromEntries(entries.map(([key, inner]) => [key, inOrder(inner)]))
}

async function messageIds(): Promise<{ id: string; customer: string }[]> {
  const { rows } = await world.db.execute(sql`
    select message_id as id, customer_id as customer from messages where status = 'sent' order by id`)
  return rows as { id: string; customer: string }[]
}

test('what is kept of days is what is counted from scratch, whatever happens in between', async () => {
  const id = await world.publish(followUp)
  const random = seededRandom(5)
  let now = START
  const placed: { id: string; by: string }[] = []
  for (let step = 0; step < 45; step += 1) {
    now += Math.round(random.next() * 30 * HOUR_MS)
    await world.moveTo(now)
    const by = random.pick(PEOPLE)
    const known = await messageIds()
    const message = known.length > 0 ? random.pick(known) : null
    const what = random.weighted(['order', 'refund', 'open', 'click', 'bounce', 'unsubscribe'], (one) => (one === 'order' ? 6 : 1)) // prettier-ignore
    if (what === 'order') {
      orders += 1
      placed.push({ id: `o${orders}`, by })
      // Some are told of days later.
      const at = random.chance(0.2) ? now - Math.round(random.next() * 3 * DAY_MS) : now
      await world.post(order('order.placed', `o${orders}`, by, at))
    } else if (what === 'refund' && placed.length > 0) {
      const one = random.pick(placed)
      await world.post(order('order.refunded', one.id, one.by, now))
    } else if (message) {
      const type = REPORTED[what]
      if (type) await world.post(eventOf(type, now, { message: { customerId: message.customer, id: message.id, ...(type === 'message.clicked' && { url: 'https://example.org/1' }) } })) // prettier-ignore
    }
    for (const over of [{}, { windowDays: 3 }, { version: 1 }]) {
      const { kept, scratch } = await bothWays(id, now, over)
      expect(kept, `after ${what}, ${JSON.stringify(over)}`).toEqual(scratch)
    }
  }
  const { rows } = await world.db.execute(sql`select count(*)::int as days from result_days`)
  expect(rows[0]?.['days']).toBeGreaterThan(20)
}, 120_000)

test('the people behind a figure are found in the days that hold them', async () => {
  const id = await world.publish(followUp)
  for (let day = 0; day < 16; day += 1) {
    await world.moveTo(START + (day + 1) * DAY_MS)
    if (day % 3 === 0) await world.post(order('order.placed', `q${day}`, PEOPLE[day % 8] ?? 'a', START + (day + 1) * DAY_MS)) // prettier-ignore
  }
  const now = START + 20 * DAY_MS
  await world.moveTo(now)
  await bothWays(id, now)
  const asked = { shopId: SHOP, workflowId: id, from: now - 20 * DAY_MS, to: now + 1, windowDays: 7, now } // prettier-ignore
  for (const measure of ['entered', 'sent', 'clicked', 'notSent', 'ordered'] as const) {
    for (const [most, isWithOpen] of [[2, true], [50, true], [50, false]] as const) {
      const behind = { measure, most, isWithOpen, ...(measure !== 'entered' && { step: 'second' }) }
      const spans = await daysHolding(world.db, ZONE, asked, behind)
      expect(await peopleBehind(world.db, { ...asked, spans }, behind), measure).toEqual(
        await peopleBehind(world.db, asked, behind),
      )
      expect(spans?.length).toBeLessThan(20)
    }
  }
}) // prettier-ignore

test('only days that something may have changed are counted again', async () => {
  const id = await world.publish(followUp)
  await world.moveTo(START + DAY_MS)
  await world.post(order('order.placed', 'p1', 'a', START + DAY_MS))
  await world.moveTo(START + 20 * DAY_MS)
  await bothWays(id, START + 20 * DAY_MS)
  const keptDays = async (): Promise<number> => {
    const { rows } = await world.db.execute(sql`select count(*)::int as days from result_days`)
    return Number(rows[0]?.['days'])
  }
  const before = await keptDays()
  expect(before).toBeGreaterThan(10)
  // Their days are over: what they do now counts for nothing.
  await world.post(eventOf('product.viewed', START + 20 * DAY_MS, { product: { customerId: 'a', productId: 'p', title: 'P' } })) // prettier-ignore
  await forgetChanged(world.db, SHOP)
  expect(await keptDays()).toBe(before)
  // What is told late is of a day that is kept.
  await world.post(order('order.placed', 'p2', 'a', START + 2 * DAY_MS))
  await forgetChanged(world.db, SHOP)
  expect(await keptDays()).toBe(before - 1)
})

test('a time from the beginning of time to its end is counted like any other', async () => {
  const id = await world.publish(followUp)
  await world.post(order('order.placed', 'r1', 'a', START))
  const now = START + 12 * DAY_MS
  await world.moveTo(now)
  const ever = { from: 0, to: 8_000_000_000_000_000 }
  const { kept, scratch } = await bothWays(id, now, ever)
  expect(kept).toEqual(scratch)
  expect(kept).toMatchObject({ over: { entered: 1 } })
})
