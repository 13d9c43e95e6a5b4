import fc from 'fast-check'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { rowsOf } from '../../backend/platform/db.ts'
import { readClock } from '../../backend/shop/index.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import type { DateTrigger } from '../../core/workflow/trigger.ts'
import {
  aDefinition,
  anEmail,
  aSubscription,
  beforePayment,
  eventOf,
  happened,
  orderEvent,
  START,
} from '../../testing/builders.ts'
import { naiveStarts, type RecordedDate } from '../../testing/model/naiveDates.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { replay } from './replay.ts'
import { replayNumbers } from './replayNumbers.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const workflow = (over: Partial<DateTrigger> = {}) =>
  aDefinition({
    trigger: beforePayment({ ifNearer: 'startAtOnce', zone: 'shop', ...over }),
    steps: [anEmail('m', { subject: 'soon', body: 'Hello' })],
  })

const recorded = (id: string, { at: time, date }: RecordedDate, over: object = {}) =>
  eventOf('subscription.changed', time, {
    subscription: aSubscription({
      id,
      customerId: id,
      nextPaymentAt: formatInstant(date),
      ...over,
    }),
    customer: { id, email: `${id}@example.org` },
  })

/** Tells the shop one thing after the other, each at its time. */
async function tell(...all: { id: string; what: RecordedDate; over?: object }[]): Promise<void> {
  for (const { id, what, over } of all.toSorted((a, b) => a.what.at - b.what.at)) {
    if (what.at > (await readClock(world.db, SHOP)).now) await world.moveTo(what.at)
    await world.post(recorded(id, what, over))
  }
}

/** Who entered, when, and for which date. */
async function entries(workflowId?: string): Promise<[string, Instant, Instant][]> {
  const only = workflowId === undefined ? sql`` : sql`and r.workflow_id = ${workflowId}`
  const rows = await rowsOf(
    world.db,
    z.object({
      customerId: z.string(),
      at: z.number(),
      date: z.number(),
    }),
    sql`select r.customer_id as "customerId", r.entered_at as at,
      (l.entry->'cause'->>'date')::bigint as date
    from runs r join ledger l on l.run_id = r.id and l.kind = 'entered'
    where r.shop_id = ${SHOP} ${only} order by r.id`,
  )
  return rows.map(({ customerId, at: when, date }) => [customerId, when, date])
}

test('moved nearer than the lead: it starts at once, and once', async () => {
  await world.publish(workflow())
  const far = START + 30 * DAY_MS
  const near = START + 6 * DAY_MS
  await tell(
    { id: 'a', what: { at: START, date: far } },
    { id: 'a', what: { at: START + DAY_MS, date: near } },
    // Told again, and something else of it changed: it is the same date.
    { id: 'a', what: { at: START + 2 * DAY_MS, date: near }, over: { quantity: 3 } },
    // Moved away and back.
    { id: 'a', what: { at: START + 3 * DAY_MS, date: far } },
    { id: 'a', what: { at: START + 4 * DAY_MS, date: near } },
  )
  expect(await entries()).toEqual([['a', START + DAY_MS, near]])
})

test('without the choice nothing starts for it', async () => {
  const { ifNearer: _none, ...trigger } = beforePayment({ zone: 'shop' })
  await world.publish({ ...workflow(), trigger })
  await tell({ id: 'a', what: { at: START, date: START + 5 * DAY_MS } })
  await world.moveTo(START + 10 * DAY_MS)
  expect(await entries()).toEqual([])
})

test('what was near before the workflow went live does not start by news of something else', async () => {
  const near = START + 5 * DAY_MS
  await tell({ id: 'a', what: { at: START, date: near } })
  await world.publish(workflow())
  await tell({ id: 'a', what: { at: START + HOUR_MS, date: near }, over: { quantity: 2 } })
  expect(await entries()).toEqual([])
})

test('filter and exclusions are asked; a past date, or one told a week late, starts nothing', async () => {
  const filter = { kind: 'field', field: 'subscription.automatic', op: 'is', value: true } as const
  const hasOrdered = {
    ...happened('order.placed'),
    about: 'customer',
    window: { kind: 'ever' },
  } as Condition
  const ordered = { key: 'o', when: hasOrdered, effect: 'leave' } as const
  await world.publish({ ...workflow({ filter }), exclusions: [ordered] })
  await world.post(orderEvent('order.placed', START - DAY_MS, { id: 'o1', customerId: 'buyer' }, { id: 'buyer' })) // prettier-ignore
  const near = { at: START, date: START + 5 * DAY_MS }
  await tell(
    { id: 'a', what: near },
    { id: 'byHand', what: near, over: { automatic: false } },
    { id: 'buyer', what: near },
    { id: 'past', what: { at: START, date: START - HOUR_MS } },
  )
  await world.post(recorded('late', { at: START - 8 * DAY_MS, date: START + 2 * DAY_MS }))
  expect((await entries()).map(([who]) => who)).toEqual(['a'])
  const turnedAway = (await world.ledger()).flatMap((one) => one.kind === 'turnedAway' ? [one.reason.code] : []) // prettier-ignore
  expect(turnedAway).toEqual(['filter', 'exclusion'])
})

test('a booked class is a date for each line, and only the line that is moved starts', async () => {
  await world.publish(workflow({ field: 'line.startsAt', days: 3 }))
  const order = (time: Instant, ...days: number[]) =>
    orderEvent(time === START ? 'order.placed' : 'order.paid', time, {
      lines: days.map((day, index) => ({
        productId: `class${index}`,
        title: 'Class',
        quantity: 1,
        unitPriceMinor: 7500,
        startsAt: formatInstant(START + day * DAY_MS),
      })),
    })
  await world.post(order(START, 20, 2))
  await world.moveTo(START + HOUR_MS)
  await world.post(order(START + HOUR_MS, 1, 2))
  expect(await entries()).toEqual([
    ['c1', START, START + 2 * DAY_MS],
    ['c1', START + HOUR_MS, START + DAY_MS],
  ])
})

test('whatever dates are told and moved: live, in the past, and read off the docs it is the same', async () => {
  const hours = fc.integer({ min: 0, max: 24 * 20 })
  const life = fc.array(fc.record({ at: hours, date: fc.integer({ min: 0, max: 40 }) }), { minLength: 1, maxLength: 5 }) // prettier-ignore
  const lives = fc.sample(life, { numRuns: 40, seed: 4 }).map((all, index) => ({
    id: `s${index}`,
    recorded: all
      .toSorted((a, b) => a.at - b.at)
      .filter((one, place, sorted) => sorted[place - 1]?.at !== one.at)
      .map((one) => ({ at: START + one.at * HOUR_MS, date: START + 12 * HOUR_MS * one.date })),
  }))
  const definitions = [
    workflow(),
    workflow({ days: 0 }),
    { ...workflow(), trigger: beforePayment({ zone: 'shop' }) },
  ]
  const ids = []
  for (const one of definitions) ids.push(await world.publish(one))
  await tell(...lives.flatMap(({ id, recorded: all }) => all.map((what) => ({ id, what }))))
  const end = START + 45 * DAY_MS
  await world.moveTo(end)
  for (const [index, definition] of definitions.entries()) {
    const { trigger } = definition
    if (trigger.kind !== 'date') throw new Error('Not by a date')
    const expected = lives.flatMap(({ id, recorded: all }) =>
      naiveStarts(trigger, 'Europe/Lisbon', all, end).map(
        ({ at: when, date }): [string, Instant, Instant] => [id, when, date],
      ),
    )
    const inOrder = (all: unknown[]) => all.map((one) => JSON.stringify(one)).toSorted()
    expect(inOrder(await entries(ids[index]))).toEqual(inOrder(expected))
    expect(expected.length).toBeGreaterThan(10)
    const past = await replay(world.db, SHOP, definition)
    expect(past && replayNumbers(past.lives).total.entered).toBe(expected.length)
  }
})
