import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { z } from 'zod'
import { keepFigures } from '../backend/figures/index.ts'
import { createApiKey } from '../backend/accounts/index.ts'
import { forgetDaily, forgetOld } from '../backend/people/index.ts'
import { rowsOf } from '../backend/platform/db.ts'
import { ingestEvents, readClock } from '../backend/shop/index.ts'
import { formatInstant } from '../core/shared/time.ts'
import { DAY_MS } from '../core/shared/duration.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, aSubscription, beforePayment, aDefinition, anEmail, anOrder, eventOf, on, START, wait } from '../testing/builders.ts' // prettier-ignore
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const who = aCustomer({ id: 'c-77-ines', email: 'Ines.Quaresma@example.org', firstName: 'Inês', lastName: 'Quaresma', phone: '+351 912 999 888', emailConsent: true, smsConsent: true }) // prettier-ignore
const address = { name: 'Inês Quaresma', street: 'Travessa do Zambujal 9', city: 'Sintra' }
const order = anOrder({ id: 'o-555-secret', number: 'N-555-secret', customerId: who.id, shippingAddress: address, trackingUrl: 'https://parcel.example/N-555-secret' }) // prettier-ignore
const review = { id: 'r-1', customerId: who.id, orderId: order.id, productId: 'x', title: 'Smoker', stars: 5, text: 'My bees at the Zambujal love it' } // prettier-ignore

/** Every row of every table in which one of these stands, as `pg_dump` would write them. */
async function dumped(parts: readonly string[]): Promise<string[]> {
  const { db } = api.world
  const tables = await rowsOf(db, z.object({ name: z.string() }), sql`
    select quote_ident(schemaname) || '.' || quote_ident(tablename) as name from pg_tables
    where schemaname not in ('pg_catalog', 'information_schema')`)
  const found: string[] = []
  for (const { name } of tables) {
    const rows = await rowsOf(db, z.object({ row: z.string() }), sql`
      select t::text as row from ${sql.raw(name)} t`)
    for (const { row } of rows) {
      const plain = row.replaceAll(/\\\\x([0-9a-f]+)/g, (_, hex: string) => Buffer.from(hex, 'hex').toString())
      const decoded = row.replaceAll(/[A-Za-z0-9+/=\n]{60,}/g, (text) => Buffer.from(text, 'base64').toString('latin1')) + plain
      const part = parts.find((one) => `${row} ${decoded}`.toLowerCase().includes(one.toLowerCase()))
      if (part) found.push(`${name}: ${part}`)
    }
  }
  return found
} // prettier-ignore

const TRACES = ['quaresma', 'inês', '912 999 888', '351912999888', 'zambujal', 'c-77-ines', 'secret@', '555-secret'] // prettier-ignore

const figures = async () => {
  const counts = await rowsOf(api.world.db, z.record(z.string(), z.unknown()), sql`
    select (select count(*) from orders) as orders, (select sum(total_minor) from orders) as revenue,
      (select count(*) from messages where status = 'sent') as sent, (select count(*) from ledger where kind <> 'acted') as decisions,
      (select count(*) from events) as events, (select avg(stars) from reviews) as stars`)
  return counts[0]
} // prettier-ignore

const tell = (type: Parameters<typeof eventOf>[0], time: number, data: object) =>
  api.world.post(eventOf(type, time, data))

/** What comes in and is kept as it came: by a connection, refused, in a file, and answered to a program. */
async function keptAsItCame(): Promise<void> {
  const { key } = await createApiKey(api.world.db, SHOP, 'till', ['events', 'people'])
  const { address: way } = (await api.call('POST', '/api/connections', { name: 'Forms' })).json<{ address: string }>()
  const form = { buyer: { mail: who.email, name: 'Inês Quaresma' }, id: who.id }
  await api.app.inject({ method: 'POST', url: new URL(way).pathname, headers: { 'content-type': 'application/json' }, payload: JSON.stringify(form) })
  const authorization = `Bearer ${key}`
  const wrong = { ...eventOf('customer.changed', START, { customer: who }), time: 'soon' }
  await api.app.inject({ method: 'POST', url: '/v1/events', headers: { authorization, 'content-type': 'application/cloudevents+json' }, payload: JSON.stringify(wrong) })
  await api.app.inject({ method: 'POST', url: '/api/people/search', headers: { authorization, 'idempotency-key': 'once' }, payload: { search: 'quaresma' } })
  const file = `id,email,last name,since\n${who.id},${who.email},Quaresma,2026-01-02\n${who.id},${who.email},Quaresma,never\n`
  const { id } = (await api.call('POST', '/api/imports?name=c.csv', Buffer.from(file), { type: 'text/csv' })).json<{ id: string }>()
  await api.call('POST', `/api/imports/${id}/begin`)
  await api.world.settle()
  const most = [{ customerId: who.id, name: 'Inês Quaresma', email: who.email, messages: 4 }]
  await keepFigures(api.world.db, SHOP, 'pressure', { data: { most }, asOf: START, tookMs: 1 })
  const tables = (await dumped(TRACES)).map((one) => one.split(':')[0])
  for (const table of ['connection_bodies', 'refused_events', 'answered_requests', 'import_pieces', 'import_before', 'import_refusals', 'kept_figures'])
    expect(tables).toContain(`public.${table}`)
} // prettier-ignore

describe('a person is erased', () => {
  test('nothing of them is left in any table; what happened is counted as before', async () => {
    await api.world.publish(
      aDefinition({
        trigger: on('order.placed'),
        steps: [
          anEmail('thanks', { purpose: 'transactional', subject: 'Thank you, {{ customer.first_name | default: "there" }}' }), // prettier-ignore
          wait('later', 'P9D'),
          anEmail('care', { purpose: 'marketing' }),
        ],
      }),
    )
    await tell('order.placed', START, { order, customer: who })
    await tell('review.submitted', START, { review, customer: who })
    await api.call('POST', `/api/people/${who.id}/acts`, { did: 'consent', channel: 'email', given: true, how: 'told Quaresma herself' }) // prettier-ignore
    await keptAsItCame()
    const data = await api.call('GET', `/api/people/${who.id}/data`)
    for (const part of ['Quaresma', 'Zambujal', 'N-555-secret', 'Thank you, Inês']) expect(data.body).toContain(part) // prettier-ignore
    const page = await api.call('GET', `/api/people/${who.id}/data-page`)
    expect(page.body).toContain('My bees at the Zambujal love it')
    expect((await dumped(TRACES)).length).toBeGreaterThan(8)
    const before = await figures()

    expect((await api.call('POST', `/api/people/${who.id}/erase`, { id: 'other' })).statusCode).toBe(400) // prettier-ignore
    expect((await api.call('POST', `/api/people/${who.id}/erase`, { id: who.id }, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
    expect((await api.call('POST', `/api/people/${who.id}/erase`, { id: who.id })).statusCode).toBe(204) // prettier-ignore
    await api.world.moveTo(START + 12 * DAY_MS)
    expect(await dumped(TRACES)).toEqual([])
    const after = await figures()
    expect(after).toEqual({ ...before, decisions: after?.['decisions'] })
    expect((await api.call('GET', `/api/people/${who.id}`)).statusCode).toBe(404)
    const acts = await api.call('GET', '/api/ledger?show=acts')
    expect(acts.body).toContain('Maren erased what identified them')
  })

  test('what comes in late does not bring them back; what they begin anew does', async () => {
    const now = START + 12 * DAY_MS
    const [late] = await tell('order.paid', START + DAY_MS, { order, customer: who })
    expect(late?.status).toBe('erased')
    // The same address under another id, told of as a customer only: still nobody who came by themselves.
    const other = { ...who, id: 'c-78-again' }
    expect((await tell('customer.changed', now, { customer: other }))[0]?.status).toBe('erased')
    expect(await dumped(TRACES)).toEqual([])
    const again = anOrder({ id: 'o-900', number: '900', customerId: other.id })
    expect((await tell('order.placed', now, { order: again, customer: other }))[0]?.status).toBe('accepted') // prettier-ignore
    expect((await tell('customer.changed', now, { customer: other }))[0]?.status).toBe('accepted')
    expect((await tell('order.paid', START, { order, customer: who }))[0]?.status).toBe('erased')
  })
})

test('what is kept no longer goes, and nothing else', async () => {
  const { db } = api.world
  const { now } = { now: START + 12 * DAY_MS }
  const view = (days: number) => tell('product.viewed', now - days * DAY_MS, { product: { customerId: 'v1', productId: 'x', title: 'X' } }) // prettier-ignore
  await view(40)
  await view(20)
  expect((await api.call('PUT', '/api/retention', { visits: 5 })).statusCode).toBe(400)
  expect((await api.call('PUT', '/api/retention', { visits: 30, ledger: null })).statusCode).toBe(
    204,
  )
  expect(await forgetOld(db, SHOP, now)).toEqual({ visits: 1, arrivals: 0 })
  const [mails] = [(await api.world.mails()).length]
  await api.call('PUT', '/api/retention', { mails: 30, ledger: 30 })
  expect(await forgetOld(db, SHOP, now + 60 * DAY_MS)).toEqual({
    mails,
    ledger: expect.any(Number),
    arrivals: 0,
  })
  expect(await api.world.mails()).toEqual([])
})

test('who did nothing for so long is erased; who has a subscription or is in a workflow stays', async () => {
  const { db } = api.world
  const { now } = await readClock(db, SHOP)
  const before = now - 400 * DAY_MS
  const people = ['idle', 'payer', 'back'].map((id) => aCustomer({ id, email: `${id}@example.org` }))
  await ingestEvents(db, SHOP, people.map((customer) => eventOf('customer.changed', before, { customer })))
  const subscription = aSubscription({ id: 's-payer', customerId: 'payer', status: 'running' })
  await ingestEvents(db, SHOP, [eventOf('subscription.created', before, { subscription })])
  await tell('product.viewed', now - DAY_MS, { product: { customerId: 'back', productId: 'x', title: 'X' } })
  await api.call('PUT', '/api/retention', { people: 365 })
  await forgetDaily(db, SHOP, now)
  const status = async (id: string) => (await api.call('GET', `/api/people/${id}`)).statusCode
  expect([await status('idle'), await status('payer'), await status('back')]).toEqual([404, 200, 200])
  const acts = await api.call('GET', '/api/ledger?show=acts')
  expect(acts.body).toContain('The term of keeping erased what identified them')
  // Once a day: what has become too old since waits for the next.
  await ingestEvents(db, SHOP, [eventOf('customer.changed', before, { customer: aCustomer({ id: 'idle-2', email: 'idle-2@example.org' }) })])
  await forgetDaily(db, SHOP, now + DAY_MS / 2)
  expect(await status('idle-2')).toBe(200)
  await forgetDaily(db, SHOP, now + DAY_MS)
  expect(await status('idle-2')).toBe(404)
  await api.call('PUT', '/api/retention', {})
}) // prettier-ignore

test('work that was on its way when somebody was erased comes to nothing, and holds nobody else up', async () => {
  const { now } = await readClock(api.world.db, SHOP)
  const email = anEmail('soon', { purpose: 'transactional', subject: 'Soon' })
  const trigger = beforePayment({ field: 'subscription.nextPaymentAt', days: 3 })
  await api.world.publish(aDefinition({ name: 'Renewal', trigger, steps: [email] }))
  const told = (id: string) => {
    const customer = aCustomer({ id, email: `${id}@example.org` })
    const subscription = aSubscription({ id: `s-${id}`, customerId: id, nextPaymentAt: formatInstant(now + 10 * DAY_MS) }) // prettier-ignore
    return eventOf('subscription.created', now, { subscription, customer })
  }
  await ingestEvents(api.world.db, SHOP, [told('late-1'), told('late-2')])
  const queued = anOrder({ id: 'o-late', number: 'late', customerId: 'late-1' })
  await ingestEvents(api.world.db, SHOP, [eventOf('order.placed', now, { order: queued })])
  expect((await api.call('POST', '/api/people/late-1/erase', { id: 'late-1' })).statusCode).toBe(
    204,
  )
  await api.world.moveTo(now + 11 * DAY_MS)
  expect(api.world.complaints).toEqual([])
  const written = (await api.world.mails()).filter(({ subject }) => subject === 'Soon')
  expect(written.map(({ to }) => to)).toEqual(['late-2@example.org'])
})
