import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import {
  aCustomer,
  aDefinition,
  anEmail,
  eventOf,
  orderEvent,
  START,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { ingestEvents } from './index.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())
beforeEach(async () => {
  for (const table of ['events', 'customers', 'dead_addresses', 'messages', 'runs', 'ledger', 'workflows', 'workflow_versions']) {
    await world.db.execute(sql`delete from ${sql.identifier(table)}`)
  }
}) // prettier-ignore

const take = (...events: object[]) => ingestEvents(world.db, SHOP, events)
const recorded = (at: Instant, customer: object) =>
  eventOf('customer.changed', at, { customer: { id: 'c1', ...customer } })
const said = (at: Instant, given: boolean, how?: string, channel = 'email') =>
  eventOf('consent.changed', at, { consent: { customerId: 'c1', channel, given, ...(how && { how }) } }) // prettier-ignore
const about = (type: 'message.bounced' | 'message.complained' | 'message.unsubscribed', at: Instant, message: object = {}) =>
  eventOf(type, at, { message: { customerId: 'c1', ...message } }) // prettier-ignore

describe('what events tell of a customer', () => {
  test('a review that only names somebody changes nothing of them', async () => {
    await take(recorded(START - DAY_MS, aCustomer({ phone: '+351912345678', smsConsent: true })))
    const before = await world.customer()
    const review = { id: 'r1', customerId: 'c1', stars: 5 }
    await take(eventOf('review.submitted', START, { review, customer: { id: 'c1' } }))
    expect(await world.customer()).toEqual(before)
  })
  test('what is left out stays, null clears, field by field', async () => {
    await take(recorded(START - DAY_MS, aCustomer()))
    await take(recorded(START - HOUR_MS, { lastName: null, country: 'ES' }))
    expect(await world.customer()).toMatchObject({
      firstName: 'Ines',
      lastName: null,
      country: 'ES',
      email: 'ines@example.org',
    })
  })
  test('of a birthday the year is not kept', async () => {
    await take(recorded(START - DAY_MS, aCustomer({ birthday: '1988-02-29' })))
    expect(await world.customer()).toMatchObject({ birthday: '02-29' })
    await take(recorded(START - HOUR_MS, { birthday: '--03-01' }))
    expect(await world.customer()).toMatchObject({ birthday: '03-01' })
    await take(recorded(START, { birthday: null }))
    expect(await world.customer()).toMatchObject({ birthday: null })
  })
  test('of two events the later by time counts for each field, in whatever order they come', async () => {
    await take(recorded(START - HOUR_MS, { firstName: 'Later' }))
    await take(recorded(START - DAY_MS, { firstName: 'Earlier', lastName: 'Known' }))
    expect(await world.customer()).toMatchObject({ firstName: 'Later', lastName: 'Known' })
  })
  test('in any order and any batches the same comes of it (property)', async () => {
    const change = fc.record(
      {
        firstName: fc.constantFrom('A', 'B', null),
        country: fc.constantFrom('PT', 'ES', null),
        emailConsent: fc.constantFrom(true, false, null),
        phone: fc.constantFrom('+351912345678', '912 345 679', null),
      },
      { requiredKeys: [] },
    )
    const changes = fc
      .array(change, { minLength: 2, maxLength: 5 })
      .map((all) => all.map((data, index) => recorded(START - HOUR_MS + index * MINUTE_MS, data)))
    await fc.assert(
      fc.asyncProperty(changes, fc.array(fc.nat(), { minLength: 5, maxLength: 5 }), fc.boolean(), async (events, keys, atOnce) => {
        const clear = async () => {
          await world.db.execute(sql`delete from events`)
          await world.db.execute(sql`delete from customers`)
        }
        // A number as within a country is read with the country that is known when it comes.
        const numbered = events.filter(({ data }) => !String((data.customer as { phone?: string }).phone).startsWith('9'))
        if (numbered.length === 0) return
        await clear()
        for (const event of numbered) await take(event)
        const wanted = await world.customer()
        await clear()
        const shuffled = numbered.map((event, index) => ({ event, key: keys[index] ?? 0 })).toSorted((a, b) => a.key - b.key).map(({ event }) => event)
        if (atOnce) await take(...shuffled)
        else for (const event of shuffled) await take(event)
        expect(await world.customer()).toEqual(wanted)
      }),
      { numRuns: 40 },
    )
  }) // prettier-ignore
  test('a national number is read with the country that is known', async () => {
    await take(recorded(START - DAY_MS, { country: 'PT' }))
    await take(recorded(START, { phone: '912 345 678' }))
    expect(await world.customer()).toMatchObject({ mobile: '+351912345678' })
  })
  test('names that mean nothing are said to be ignored, with their paths', async () => {
    const event = orderEvent('order.placed', START)
    const data = { ...event.data, customer: { id: 'c1', emial: 'a@example.org' }, note: 'x' }
    expect(await take({ ...event, data })).toMatchObject([
      { status: 'accepted', ignored: ['data.customer.emial', 'data.note'] },
    ])
  })
})

describe('yes and no to marketing', () => {
  test.each([
    ['the unsubscribe link', said(START - HOUR_MS, false, 'unsubscribe link'), 'emailConsent'],
    ['STOP', said(START - HOUR_MS, false, 'answer to a text message', 'sms'), 'smsConsent'],
    ['a no that nobody says the way of', said(START - HOUR_MS, false), 'emailConsent'],
    ['a complaint', about('message.complained', START - HOUR_MS), 'emailConsent'],
    ['an unsubscription told by the mail system', about('message.unsubscribed', START - HOUR_MS), 'emailConsent'],
  ] as const)('after %s the shop’s own data lift nothing', async (_what, no, field) => {
    await take(recorded(START - DAY_MS, aCustomer({ smsConsent: true })))
    await take(no)
    expect(await world.customer()).toMatchObject({ [field]: false })
    await take(recorded(START, aCustomer({ smsConsent: true })))
    await take(said(START, true))
    expect(await world.customer()).toMatchObject({ [field]: false })
  }) // prettier-ignore
  test('a later yes of their own lifts it, also after a complaint', async () => {
    await take(
      recorded(START - DAY_MS, aCustomer()),
      about('message.complained', START - 2 * HOUR_MS),
    )
    await take(said(START - HOUR_MS, true, 'newsletter form'))
    expect(await world.customer()).toMatchObject({ emailConsent: true, suppressed: null })
  })
  test('an unsubscription that is older than a later yes does not count, whenever it comes', async () => {
    await take(recorded(START - DAY_MS, aCustomer()))
    await take(said(START - HOUR_MS, true, 'newsletter form'))
    await take(about('message.unsubscribed', START - 2 * HOUR_MS))
    await take(said(START - 2 * HOUR_MS, false, 'unsubscribe link'))
    expect(await world.customer()).toMatchObject({ emailConsent: true, suppressed: null })
  })
  test('without a word of theirs the shop’s latest counts', async () => {
    await take(recorded(START - DAY_MS, { emailConsent: true }))
    await take(recorded(START - HOUR_MS, { emailConsent: false }))
    await take(recorded(START - 2 * HOUR_MS, { emailConsent: true }))
    expect(await world.customer()).toMatchObject({ emailConsent: false, suppressed: null })
  })
  test('STOP by text says nothing of mail', async () => {
    await take(recorded(START - DAY_MS, aCustomer({ smsConsent: true })))
    await take(said(START, false, 'answer to a text message', 'sms'))
    expect(await world.customer()).toMatchObject({ emailConsent: true, smsConsent: false })
  })
})

describe('addresses that do not exist', () => {
  test('belong to whoever has them; a new address is alive, the old one stays dead', async () => {
    await take(recorded(START - DAY_MS, aCustomer()), eventOf('customer.changed', START - DAY_MS, { customer: { id: 'c2', email: 'INES@example.org' } })) // prettier-ignore
    await take(about('message.bounced', START - HOUR_MS, { permanent: true }))
    expect(await world.customer('c1')).toMatchObject({ suppressed: 'bounced' })
    expect(await world.customer('c2')).toMatchObject({ suppressed: 'bounced' })
    await take(recorded(START, { email: 'new@example.org' }))
    expect(await world.customer('c1')).toMatchObject({ suppressed: null })
    await take(recorded(START, { email: 'ines@example.org' }))
    expect(await world.customer('c1')).toMatchObject({ suppressed: 'bounced' })
  })
  test('a late bounce of the old address does not kill the new one', async () => {
    await world.publish(aDefinition({ steps: [anEmail('m')] }))
    await world.post(orderEvent('order.placed', START))
    const { rows } = await world.db.execute<{ id: string }>(sql`select message_id as id from messages`)
    await world.jumpTo(START + HOUR_MS)
    await take(recorded(START + HOUR_MS, { email: 'new@example.org' }))
    await take(about('message.bounced', START + HOUR_MS, { permanent: true, id: rows[0]?.id }))
    expect(await world.customer()).toMatchObject({ email: 'new@example.org', suppressed: null })
    const dead = await world.db.execute(sql`select address from dead_addresses`)
    expect(dead.rows).toEqual([{ address: 'ines@example.org' }])
    // One that names neither message nor address is about the address of its time.
    await take(about('message.bounced', START + MINUTE_MS, { permanent: true }))
    expect(await world.customer()).toMatchObject({ suppressed: null })
    await world.jumpTo(START)
  }) // prettier-ignore
  test('after a complaint a permanent bounce still counts: receipts stop as well', async () => {
    await take(recorded(START - DAY_MS, aCustomer()))
    await take(about('message.complained', START - HOUR_MS))
    expect(await world.customer()).toMatchObject({ suppressed: 'complained' })
    await take(about('message.bounced', START, { permanent: true }))
    expect(await world.customer()).toMatchObject({ suppressed: 'bounced' })
    await world.publish(aDefinition({ steps: [anEmail('receipt')] }))
    await world.post(orderEvent('order.placed', START, {}, null))
    expect((await world.ledger()).find(({ kind }) => kind === 'skipped')).toMatchObject({
      reason: { code: 'suppressed', why: 'bounced' },
    })
  })
})
