import { parse } from 'csv-parse/sync'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { z } from 'zod'
import { rowsOf } from '../backend/platform/db.ts'
import { exportKind } from '../contract/exports.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, aDefinition, anEmail, anOrder, eventOf, on, START } from '../testing/builders.ts' // prettier-ignore
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
  const { world } = api
  await world.publish(aDefinition({ trigger: on('order.placed'), steps: [anEmail('thanks')] }))
  for (let at = 0; at < 3; at += 1) {
    const customer = aCustomer({ id: `x${at}`, email: `x${at}@example.org`, firstName: '=HYPERLINK("x")', phone: '+4915112345678', emailConsent: true, tags: ['b', 'keeps bees'] }) // prettier-ignore
    const lines = ['p-1', 'p-2'].map((productId) => ({ productId, title: `Bee brush, "${productId}"`, quantity: 2, unitPriceMinor: 450 })) // prettier-ignore
    await world.post(eventOf('order.placed', START, { order: anOrder({ id: `o${at}`, number: `20${at}`, customerId: `x${at}`, lines }), customer })) // prettier-ignore
  }
  const consent = { customerId: 'x1', channel: 'email', given: false, how: 'by phone' }
  await world.post(eventOf('consent.changed', START, { consent }))
  await world.settle()
})
afterAll(() => api.close())

const file = async (kind: string, format = 'csv') =>
  api.call('GET', `/api/exports/${kind}?format=${format}`)
const rowsIn = async (kind: string): Promise<Record<string, string>[]> =>
  parse((await file(kind)).body, { columns: true, bom: true })

test.each(exportKind.options)('%s as CSV and as JSON Lines tell the same', async (kind) => {
  const csv = await rowsIn(kind)
  const lines = (await file(kind, 'jsonl')).body.split('\n').filter((line) => line !== '')
  expect(lines).toHaveLength(csv.length)
  if (kind !== 'subscriptions' && kind !== 'suppressions' && kind !== 'coupons') {
    expect(csv.length).toBeGreaterThan(0)
    expect(Object.keys(JSON.parse(lines[0] ?? '{}') as object)).toEqual(Object.keys(csv[0] ?? {}))
  }
})

test('more than a page is written to its end, each once', async () => {
  await api.world.db.execute(sql`
    insert into products (shop_id, id, title, price_minor, currency, as_of)
    select ${SHOP}, 'many-' || n, 'Frame ' || n, n, 'EUR', 0 from generate_series(1, 2500) n`)
  const ids = (await rowsIn('products')).map(({ id }) => id)
  expect(ids.length).toBeGreaterThan(2500)
  expect(new Set(ids).size).toBe(ids.length)
})

test('staff takes nothing out, and nobody takes out what is not there', async () => {
  expect((await api.call('GET', '/api/exports/orders', undefined, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
  expect((await file('passwords')).statusCode).toBe(400)
})

test('nothing in a file is a formula', async () => {
  for (const row of await rowsIn('customers'))
    for (const cell of Object.values(row)) expect(cell).not.toMatch(/^[=+@-]/)
})

test('what was taken out comes in elsewhere as it was', async () => {
  const files = new Map<string, string>()
  for (const kind of ['customers', 'orders', 'consents']) files.set(kind, (await file(kind)).body)
  const other = await makeApi()
  try {
    for (const [kind, text] of files) {
      const type = { type: 'text/csv' }
      const { id } = (await other.call('POST', `/api/imports?name=${kind}.csv`, Buffer.from(text), type)).json<{ id: string }>() // prettier-ignore
      expect((await other.call('GET', `/api/imports/${id}`)).json()).toMatchObject({ kind })
      expect((await other.call('POST', `/api/imports/${id}/begin`)).statusCode).toBe(204)
      await other.world.settle()
      expect((await other.call('GET', `/api/imports/${id}`)).json()).toMatchObject({ state: 'done', counts: { refused: 0 } }) // prettier-ignore
    }
    expect(await told(other)).toEqual(await told(api))
  } finally {
    await other.close()
  }
})

/** What two shops must have in common once one has the other's files. */
const told = ({ world }: Api) =>
  rowsOf(world.db, z.object({ row: z.string() }), sql`
    select concat_ws(' | ', 'customer', id, email, first_name, phone, tags, email_said, email_said_how) as row from customers union all
    select concat_ws(' | ', 'order', id, number, customer_id, status, total_minor, currency, placed_at) from orders union all
    select concat_ws(' | ', 'line', order_id, position, product_id, title, quantity, unit_price_minor) from order_lines
    order by 1`) // prettier-ignore
