import fc from 'fast-check'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { sql } from 'drizzle-orm'
import type { EventType } from '../../core/events/eventTypes.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { aCustomer, eventOf, orderEvent, START } from '../../testing/builders.ts'
import { addShop, makeWorld, SHOP, type World } from '../../testing/world.ts'
import { importPast, ingestEvents } from './index.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())
beforeEach(async () => {
  await world.db.execute(sql`truncate events, customers, products, orders, order_lines`)
  await world.db.execute(sql`delete from graphile_worker._private_jobs`)
})

const rows = async (table: string) =>
  (await world.db.execute(sql`select * from ${sql.identifier(table)} order by 1, 2, 3`)).rows
const projection = async () => ({
  customers: await rows('customers'),
  orders: await rows('orders'),
  lines: await rows('order_lines'),
  products: await rows('products'),
})

describe('what the events say of the shop', () => {
  test('a placed order brings customer, order, lines and products', async () => {
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START - HOUR_MS)])
    expect(await projection()).toMatchObject({
      customers: [
        {
          id: 'c1',
          email: 'ines@example.org',
          zone: 'Europe/Lisbon',
          may_email: true,
          as_of: START - HOUR_MS,
        },
      ],
      orders: [
        {
          id: 'o1',
          number: '1001',
          status: 'placed',
          total_minor: 4200,
          placed_at: START - HOUR_MS,
        },
      ],
      lines: [
        { order_id: 'o1', position: 0, product_id: 'p1', quantity: 2, unit_price_minor: 2100 },
      ],
      products: [
        {
          id: 'p1',
          title: 'Bee brush',
          category: 'Tools & smokers',
          price_minor: 2100,
          currency: 'EUR',
        },
      ],
    })
  })

  test('someone only named by an order exists, and nothing is made up about them', async () => {
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START, {}, null)])
    expect(await rows('customers')).toMatchObject([
      {
        id: 'c1',
        email: null,
        first_name: null,
        zone: null,
        may_email: null,
      },
    ])
  })

  test('an order that only names someone does not forget what is known of them', async () => {
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START - HOUR_MS)])
    await ingestEvents(world.db, SHOP, [orderEvent('order.paid', START, {}, null)])
    expect(await rows('customers')).toMatchObject([{ email: 'ines@example.org' }])
  })

  test('an empty name is an unknown name', async () => {
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START, {}, { firstName: '  ' })])
    expect(await rows('customers')).toMatchObject([{ first_name: null }])
  })

  test('what somebody paid in another currency is not the shop’s price', async () => {
    const lines = [
      { productId: 'p1', title: 'Bee brush', category: null, quantity: 1, unitPriceMinor: 900 },
    ]
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START - MINUTE_MS)])
    await ingestEvents(world.db, SHOP, [
      orderEvent('order.placed', START, { id: 'o2', currency: 'JPY', lines }),
    ])
    expect(await rows('products')).toMatchObject([{ price_minor: 2100, currency: 'EUR' }])
  })

  test('a suppression is not lifted by what an event says', async () => {
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START - HOUR_MS)])
    await ingestEvents(world.db, SHOP, [
      eventOf('message.unsubscribed', START - MINUTE_MS, { message: { customerId: 'c1' } }),
    ])
    await ingestEvents(world.db, SHOP, [orderEvent('order.paid', START)])
    expect(await world.customer()).toMatchObject({ suppressed: 'unsubscribed' })
  })

  test('a customer’s own event', async () => {
    const event = {
      specversion: '1.0',
      id: 'created',
      source: '/tests',
      type: 'customer.created',
      data: { customer: aCustomer({ id: 'c9', firstName: '美咲' }) },
    }
    expect(await ingestEvents(world.db, SHOP, [event])).toMatchObject([{ status: 'accepted' }])
    // Without a time of its own it happened now.
    expect(await rows('events')).toMatchObject([
      { type: 'customer.created', time: START, subject_id: null },
    ])
    expect(await rows('customers')).toMatchObject([{ first_name: '美咲' }])
  })

  test('characters that PostgreSQL cannot hold do not lose the event', async () => {
    const event = orderEvent('order.placed', START, {}, { firstName: 'Nul\u0000l' })
    expect(await ingestEvents(world.db, SHOP, [event])).toMatchObject([{ status: 'accepted' }])
    expect(await rows('customers')).toMatchObject([{ first_name: 'Nul\uFFFDl' }])
  })
})

describe('each event once', () => {
  test('by (source, id): the same id from another source is another event', async () => {
    const event = orderEvent('order.placed', START)
    await ingestEvents(world.db, SHOP, [event])
    expect(
      await ingestEvents(world.db, SHOP, [event, { ...event, source: '/other' }]),
    ).toMatchObject([{ status: 'duplicate' }, { status: 'accepted' }])
  })

  test('also when both deliveries come at the same moment', async () => {
    const event = orderEvent('order.placed', START)
    const receipts = await Promise.all(
      [1, 2, 3, 4].map(() => ingestEvents(world.db, SHOP, [event])),
    )
    expect(receipts.flat().filter(({ status }) => status === 'accepted')).toHaveLength(1)
    expect(await rows('events')).toHaveLength(1)
  })

  test('the same event in two shops is two', async () => {
    await addShop(world.db, 'second-shop')
    const event = orderEvent('order.placed', START)
    for (const shop of [SHOP, 'second-shop']) {
      expect(await ingestEvents(world.db, shop, [event])).toMatchObject([{ status: 'accepted' }])
    }
  })

  test('one job for what is new, none for what is known', async () => {
    const event = orderEvent('order.placed', START)
    await ingestEvents(world.db, SHOP, [event, orderEvent('order.paid', START)])
    await ingestEvents(world.db, SHOP, [event])
    const jobs = await world.db.execute(sql`select task_identifier from graphile_worker.jobs`)
    expect(jobs.rows).toEqual([{ task_identifier: 'startRuns' }])
  })

  test('the past is taken in whole or not at all, and starts nothing', async () => {
    const bad = { ...orderEvent('order.placed', START), specversion: '2' }
    await expect(
      importPast(world.db, SHOP, [orderEvent('order.placed', START), bad]),
    ).rejects.toThrow(/Event 1 of the past/)
    expect(await rows('events')).toEqual([])
    await importPast(world.db, SHOP, [orderEvent('order.placed', START)])
    const jobs = await world.db.execute(sql`select 1 from graphile_worker.jobs`)
    expect(jobs.rows).toEqual([])
  })
})

test('in whatever order and batches events arrive, the shop ends up the same (property)', async () => {
  const types = [
    'order.placed',
    'order.paid',
    'order.fulfilled',
    'order.refunded',
    'order.cancelled',
  ] as const
  const event = fc.record({
    type: fc.constantFrom<EventType>(...types),
    daysAgo: fc.integer({ min: 0, max: 400 }),
    order: fc.constantFrom('o1', 'o2', 'o3'),
    total: fc.integer({ min: 0, max: 99_999 }),
    name: fc.constantFrom('Ines', 'Rui', null),
  })
  // Two events of one instant have no order, so every event gets a time of its own.
  const history = fc.uniqueArray(event, {
    minLength: 1,
    maxLength: 8,
    selector: ({ daysAgo }) => daysAgo,
  })
  const toEvent = ({
    type,
    daysAgo,
    order,
    total,
    name,
  }: (typeof history extends fc.Arbitrary<infer T> ? T : never)[number]) =>
    orderEvent(
      type,
      START - daysAgo * DAY_MS,
      {
        id: order,
        number: order,
        totalMinor: total,
        lines: [
          {
            productId: `p${total % 3}`,
            title: `Product ${daysAgo}`,
            quantity: 1,
            unitPriceMinor: total,
          },
        ],
      },
      name === null ? null : { firstName: name },
    )
  await fc.assert(
    fc.asyncProperty(
      history,
      fc.infiniteStream(fc.integer({ min: 1, max: 3 })),
      async (happened, sizes) => {
        const events = happened.map(toEvent)
        const load = async (ordered: object[]) => {
          await world.db.execute(sql`truncate events, customers, products, orders, order_lines`)
          const queue = [...ordered]
          while (queue.length > 0) {
            const batch = queue.splice(0, sizes.next().value)
            await ingestEvents(world.db, SHOP, batch)
          }
          return projection()
        }
        const forwards = await load(events.toSorted((a, b) => (a.time < b.time ? -1 : 1)))
        expect(await load(events)).toEqual(forwards)
        expect(await load([...events.toReversed(), ...events])).toEqual(forwards)
      },
    ),
    { numRuns: 25 },
  )
})
