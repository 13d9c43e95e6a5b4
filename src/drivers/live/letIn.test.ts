import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { intakesOf, stopIntakes } from '../../backend/intakes/index.ts'
import { importPast, ingestEvents } from '../../backend/shop/index.ts'
import { retireWorkflow } from '../../backend/workflows/index.ts'
import { DAY_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { compileProgram } from '../../core/workflow/compile.ts'
import type { Definition } from '../../core/workflow/definition.ts'
// prettier-ignore
import { aDefinition, anEmail, happened, on, orderEvent, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { beginLettingIn, letInDue } from './letIn.ts'
import { getsFirst, whoQualifies } from './qualifying.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const THANKS = aDefinition({
  name: 'Thanks',
  trigger: on('order.placed'),
  exclusions: [{ key: 'refunded', when: happened('order.refunded'), effect: 'leave' }],
  steps: [wait('w', 'P1D'), anEmail('thanks')],
})

const about = (customer: number) => ({
  id: `o${customer}`,
  number: String(1000 + customer),
  customerId: `c${customer}`,
})
const ordered = (customer: number, daysAgo: number) =>
  orderEvent('order.placed', START - daysAgo * DAY_MS, about(customer), {
    email: `${customer}@example.org`,
  })
const past = (...events: object[]) => importPast(world.db, SHOP, events)
/** Ordered one to five days ago. */
const fiveOrders = () => past(...[1, 2, 3, 4, 5].map((one) => ordered(one, one)))

async function qualify(definition: Definition, days: number) {
  const workflow = { id: 'w', version: 0, program: compileProgram(definition) }
  return whoQualifies(world.db, await world.shop(), workflow, { days, now: START })
}
const begin = (id: string, { days = 30, perHour = 1000 } = {}) =>
  beginLettingIn(world.db, world.programs, SHOP, id, { days, perHour, person: 'Maren' })
const minutes = (at: number) => (at - START) / MINUTE_MS
const entries = async (kind: string) => (await world.ledger()).filter((one) => one.kind === kind)
const customersIn = async () => {
  const { rows } = await world.db.$client.query('select customer_id from runs order by id')
  return rows.map((row: { customer_id: string }) => row.customer_id)
}

describe('who qualifies already', () => {
  test('is named with what they get first; who would be turned away is counted; nothing is changed', async () => {
    await fiveOrders()
    await past(orderEvent('order.refunded', START - DAY_MS, about(2), null))
    const { people, turnedAway, hasMore } = await qualify(THANKS, 3.5)
    expect(people.map(({ waiting }) => [waiting.customerId, waiting.occasionAt])).toEqual([
      ['c3', START - 3 * DAY_MS],
      ['c1', START - DAY_MS],
    ])
    // A day after it was their turn.
    const workflow = { id: 'w', version: 0, program: compileProgram(THANKS) }
    const turn = START + 20 * MINUTE_MS
    const [earliest] = people
    if (!earliest) throw new Error('nobody')
    const gets = { first: { step: 'thanks', at: turn + DAY_MS }, skipped: null }
    expect(getsFirst(workflow, earliest, turn)).toEqual(gets)
    expect(turnedAway).toEqual({ exclusion: 1 })
    expect(hasMore).toBe(false)
    expect(await world.ledger()).toEqual([])
  })

  test('meets the entry rule: of two orders of one person the newest counts, where one may enter once', async () => {
    await past(
      ordered(1, 5),
      orderEvent('order.placed', START - DAY_MS, { ...about(1), id: 'o1b', number: '2001' }),
    )
    const once = { rule: { kind: 'once' }, overlap: 'allow' } as const
    const { people, turnedAway } = await qualify({ ...THANKS, entry: once }, 30)
    expect(people.map(({ waiting }) => waiting.subjectId)).toEqual(['o1b'])
    expect(turnedAway).toEqual({ enteredBefore: 1 })
    expect((await qualify(THANKS, 30)).people.length).toBe(2)
  })

  test('by a change of status: the last that is one of those the trigger asks for', async () => {
    const changed = (daysAgo: number, from: string, to: string) => ({
      ...orderEvent('order.status_changed', START - daysAgo * DAY_MS, about(1), null),
      data: { order: { ...ordered(1, 0).data.order }, from, to },
    })
    await past(ordered(1, 6), changed(5, 'placed', 'preparing'), changed(2, 'preparing', 'closed'))
    const trigger = on('order.status_changed', { to: ['preparing'] })
    const { people } = await qualify({ ...THANKS, trigger }, 30)
    expect(people.map(({ waiting }) => waiting.occasionAt)).toEqual([START - 5 * DAY_MS])
    const other = on('order.status_changed', { to: ['cancelled'] })
    expect((await qualify({ ...THANKS, trigger: other }, 30)).people).toEqual([])
  })

  test('by a date whose moment has been, however long ago within what was asked for', async () => {
    await fiveOrders()
    const trigger = {
      kind: 'date',
      field: 'customer.lastOrderAt',
      direction: 'after',
      days: 2,
      at: '09:00',
      zone: 'shop',
    } as const
    const { people } = await qualify({ ...THANKS, trigger }, 30)
    expect(people.map(({ waiting }) => waiting.customerId)).toEqual(['c5', 'c4', 'c3', 'c2'])
    expect(
      (await qualify({ ...THANKS, trigger }, 2)).people.map(({ waiting }) => waiting.customerId),
    ).toEqual(['c3', 'c2'])
  })

  test('is not whoever has only just come, and is looked at in a moment', async () => {
    await ingestEvents(world.db, SHOP, [ordered(1, 0)])
    expect((await qualify(THANKS, 30)).people).toEqual([])
    await world.settle()
    expect((await qualify(THANKS, 30)).people.length).toBe(1)
  })

  test('is nobody where people are put in by hand', async () => {
    await fiveOrders()
    expect(
      (await qualify({ ...THANKS, trigger: { kind: 'hand', subject: 'order' } }, 30)).people,
    ).toEqual([])
  })
})

describe('letting them in', () => {
  test('so many an hour, the longest waiting first, each by what is known when it is their turn', async () => {
    await fiveOrders()
    const id = await world.publish(THANKS)
    expect(await begin(id, { perHour: 3 })).toBe(5)
    await world.settle()
    await world.moveTo(START + 30 * MINUTE_MS)
    expect(await customersIn()).toEqual(['c5', 'c4'])
    await world.post(orderEvent('order.refunded', START + 30 * MINUTE_MS, about(2), null))
    await world.moveTo(START + 2 * DAY_MS)
    expect((await entries('entered')).map(({ at }) => minutes(at))).toEqual([0, 20, 40, 80])
    expect((await entries('turnedAway')).map(({ at }) => minutes(at))).toEqual([60])
    expect((await entries('entered'))[0]).toMatchObject({
      cause: { by: 'hand', person: 'Maren', already: true },
    })
    expect((await world.mails()).map(({ to }) => to).toSorted()).toEqual([
      '1@example.org',
      '3@example.org',
      '4@example.org',
      '5@example.org',
    ])
    expect(await intakesOf(world.db, SHOP, id)).toMatchObject([
      { people: 5, entered: 4, turnedAway: 1, endedAt: START + 80 * MINUTE_MS, isStopped: false },
    ])
  })

  test('nobody twice: not by a second intake, nor by two workers, nor who was in it for that already', async () => {
    await fiveOrders()
    const id = await world.publish(THANKS)
    await begin(id)
    await begin(id)
    await Promise.all([
      letInDue(world.db, world.programs, SHOP),
      letInDue(world.db, world.programs, SHOP),
    ])
    await world.settle()
    expect((await customersIn()).toSorted()).toEqual(['c1', 'c2', 'c3', 'c4', 'c5'])
    expect(await begin(id)).toBe(0)
    await world.moveTo(START + 2 * DAY_MS)
    expect((await world.mails()).length).toBe(5)
    expect((await intakesOf(world.db, SHOP, id)).every(({ endedAt }) => endedAt !== null)).toBe(
      true,
    )
  })

  test('while it is paused the line stands; stopped, the rest stay out', async () => {
    await fiveOrders()
    const id = await world.publish(THANKS)
    await begin(id, { perHour: 6 })
    await world.settle()
    await world.pause(id)
    await world.moveTo(START + 25 * MINUTE_MS)
    expect(await customersIn()).toEqual(['c5'])
    await world.resume(id)
    expect(await customersIn()).toEqual(['c5', 'c4', 'c3'])
    expect(await stopIntakes(world.db, SHOP, id, START + 25 * MINUTE_MS)).toBe(2)
    await world.moveTo(START + 2 * DAY_MS)
    expect(await customersIn()).toEqual(['c5', 'c4', 'c3'])
    expect(await intakesOf(world.db, SHOP, id)).toMatchObject([
      { entered: 3, turnedAway: 0, isStopped: true },
    ])
  })

  test('a workflow that is retired sends its line away; one that is no longer live lets nobody in', async () => {
    await fiveOrders()
    const id = await world.publish(THANKS)
    await begin(id, { perHour: 1 })
    await world.settle()
    await retireWorkflow(world.db, SHOP, id, { endRuns: false, person: 'Maren' })
    await world.moveTo(START + DAY_MS)
    expect(await customersIn()).toEqual(['c5'])
    await expect(begin(id)).rejects.toMatchObject({ code: 'conflict' })
  })

  test('for each line of an order one, as when it is live', async () => {
    const line = (productId: string) => ({
      productId,
      title: productId,
      category: null,
      quantity: 1,
      unitPriceMinor: 100,
    })
    await past(
      orderEvent('order.placed', START - DAY_MS, { ...about(1), lines: [line('a'), line('b')] }),
    )
    const id = await world.publish({ ...THANKS, trigger: on('order.placed', { per: 'line' }) })
    expect(await begin(id)).toBe(2)
    await world.settle()
    expect((await entries('entered')).length).toBe(2)
    expect(await begin(id)).toBe(0)
  })
})
