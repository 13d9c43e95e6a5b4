import { zipSync } from 'fflate'
import { gzipSync } from 'node:zlib'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { z } from 'zod'
import type { ImportDryRun, ImportSummary } from '../contract/imports.ts'
import { forgetRefusedRows, tidyImports } from '../backend/imports/index.ts'
import { rowsOf } from '../backend/platform/db.ts'
import { readClock } from '../backend/shop/index.ts'
import { DAY_MS } from '../core/shared/duration.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, anOrder, aDefinition, eventOf, on, START } from '../testing/builders.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
  await api.world.publish(aDefinition({ trigger: on('order.placed') }))
})
afterAll(() => api.close())

const upload = (text: string | Buffer, name = 'orders.csv') =>
  api.call('POST', `/api/imports?name=${name}`, Buffer.from(text), { type: 'text/csv' })
const kept = async (text: string | Buffer): Promise<string> =>
  (await upload(text)).json<{ id: string }>().id
const found = async (id: string) =>
  (await api.call('GET', `/api/imports/${id}`)).json<ImportSummary & { heads: string[] }>()
const tried = async (id: string) =>
  (await api.call('POST', `/api/imports/${id}/try`)).json<ImportDryRun>()
async function broughtIn(text: string | Buffer): Promise<ImportSummary> {
  const id = await kept(text)
  expect((await api.call('POST', `/api/imports/${id}/begin`)).statusCode).toBe(204)
  await api.world.settle()
  return found(id)
}

/** Every row of what an import can write, for telling whether anything has changed. */
const everything = () =>
  rowsOf(api.world.db, z.object({ row: z.string() }), sql`
    select 'c' || to_jsonb(t)::text as row from customers t union all select 'o' || to_jsonb(t)::text from orders t
    union all select 'l' || to_jsonb(t)::text from order_lines t union all select 'p' || to_jsonb(t)::text from products t
    union all select 'd' || to_jsonb(t)::text from dead_addresses t union all select 'e' || (to_jsonb(t) - 'seq')::text from events t
    order by 1`) // prettier-ignore

const ORDERS = `Order Number;Date;Email;First Name;Total;Product;SKU;Quantity;Price;Status
1001;03.02.2026 14:05;ana@example.org;Ana;1.034,50;Honey extractor;p-1;1;1.000,00;delivered
1001;03.02.2026 14:05;ana@example.org;Ana;1.034,50;Bee brush;p-2;3;11,50;delivered
1002;28.02.2026;bo@example.org;Bo;9,90;Bee brush;p-2;1;9,90;cancelled
1003;31.02.2026;cy@example.org;Cy;9,90;Bee brush;p-2;1;9,90;
1004;01.03.2026;;Nobody;9,90;Bee brush;p-2;1;9,90;
1002;28.02.2026;bo@example.org;Bo;9,90;Smoker;p-3;1;9,90;cancelled
`

describe('a file of orders', () => {
  test('is recognised, tried, brought in, known again, and starts nothing', async () => {
    const id = await kept(ORDERS)
    const { kind, mapping, format, heads } = await found(id)
    expect({ kind, format }).toEqual({ kind: 'orders', format: { decimal: ',', dates: 'dmy' } })
    expect(heads[mapping['productId'] ?? -1]).toBe('SKU')
    const before = await everything()
    const dry = await tried(id)
    expect(dry.counts).toEqual({ rows: 6, taken: 2, known: 0, refused: 3 })
    expect(dry.refused.map(({ place, problems }) => [place, problems[0]?.message])).toEqual([
      [4, 'when it was placed must be a date like 2026-04-14 or 14.04.2026'],
      [5, 'names nobody: an id or an address is needed'],
      [6, 'belongs to an order that stands further up: its rows must stand below each other'],
    ])
    expect(await everything()).toEqual(before)

    const done = await broughtIn(ORDERS)
    expect(done).toMatchObject({ state: 'done', counts: { rows: 6, taken: 2, known: 0, refused: 3 } })
    const [ana] = (await api.call('POST', '/api/people/search', { search: 'ana@' })).json<{ people: object[] }>().people
    expect(ana).toMatchObject({ name: 'Ana', orders: 1, spentMinor: 103450 })
    const orders = await rowsOf(api.world.db, z.object({ id: z.string(), status: z.string(), lines: z.int() }), sql`
      select id, status, (select count(*)::int from order_lines l where l.order_id = o.id) as lines from orders o order by id`)
    expect(orders).toEqual([{ id: '1001', status: 'delivered', lines: 2 }, { id: '1002', status: 'cancelled', lines: 1 }])
    expect(await api.world.ledger()).toEqual([])

    const refused = await api.call('GET', `/api/imports/${done.id}/refused`)
    expect(refused.body.split('\n')[2]).toContain('1004;01.03.2026'.slice(0, 4))
    expect(refused.body).toContain('why it was refused')
    const all = await everything()
    expect((await broughtIn(ORDERS)).counts).toEqual({ rows: 6, taken: 0, known: 2, refused: 3 })
    expect(await everything()).toEqual(all)
  }) // prettier-ignore

  test('is undone to what stood before, and what came since holds', async () => {
    const dana = aCustomer({ id: 'dana', email: 'dana@example.org', firstName: 'Dana', emailConsent: true }) // prettier-ignore
    await api.world.post(eventOf('customer.created', START - 40 * DAY_MS, { customer: dana }))
    const before = await everything()
    const file = `number,placed at,customer id,email,first name,total,title\n2001,2026-03-20,dana,dana@new.example,Danielle,5.00,Brush\n2002,2026-03-21,new-1,n@example.org,New,6.00,Brush\n` // prettier-ignore
    const { id, counts } = await broughtIn(file)
    expect(counts.taken).toBe(2)
    const order = anOrder({ id: 'o-since', customerId: 'new-1' })
    await api.world.post(eventOf('order.placed', START, { order, customer: { id: 'new-1', email: 'n@example.org', lastName: 'Since' } })) // prettier-ignore
    expect((await api.call('POST', `/api/imports/${id}/undo`)).statusCode).toBe(204)
    const after = await everything()
    const added = after.filter(({ row }) => !before.some((one) => one.row === row))
    expect(before.filter(({ row }) => !after.some((one) => one.row === row))).toEqual([])
    // Nothing of the file; of the new customer what the shop told of them since.
    for (const part of ['2001', '2002', 'Brush', 'Danielle', '"New"']) {
      expect(added.filter(({ row }) => row.includes(part))).toEqual([])
    }
    expect(added.some(({ row }) => row.includes('Since'))).toBe(true)
    expect((await api.call('POST', `/api/imports/${id}/undo`)).statusCode).toBe(409)
  })
})

test('customers, consents, products, subscriptions and addresses not to write to', async () => {
  const customers = await broughtIn('Customer ID,E-Mail,First name,Accepts Marketing,Tags,Created\nk1,k1@example.org,Kim,yes,"club, fair",2025-01-02\n') // prettier-ignore
  expect(customers).toMatchObject({ kind: 'customers', counts: { taken: 1 } })
  const consents = await broughtIn('email;given;how;at\nk1@example.org;no;letter;2026-02-01\n')
  expect(consents).toMatchObject({ kind: 'consents', counts: { refused: 0 } })
  const products = await broughtIn('id,title,price,availability,link,image link\nq1,Queen cage,4.20,in stock,https://shop.example/q1,https://shop.example/q1.png\n') // prettier-ignore
  expect(products).toMatchObject({ kind: 'products', counts: { taken: 1 } })
  const subscriptions = await broughtIn('id,customer id,product id,product,amount,started at,next payment,interval,status\ns1,k1,q1,Queen cage,4.20,2026-01-01,2026-05-01,month,running\n') // prettier-ignore
  expect(subscriptions).toMatchObject({ kind: 'subscriptions', counts: { taken: 1 } })
  const dead = await broughtIn('email,reason\nk1@example.org,bounced\n')
  expect(dead).toMatchObject({ kind: 'suppressions', counts: { taken: 1 } })
  const known = await api.world.customer('k1')
  expect(known).toMatchObject({ firstName: 'Kim', suppressed: 'bounced', tags: ['club', 'fair'] })
})

test('a file of several batches that tell of the same people and goods: they stand as its last rows say, and undone nothing is left', async () => {
  const COUNT = 6100
  const row = (index: number) => `L${index};2026-03-01 10:00;long${index % 700}@example.org;Name ${index};12.00;Comb ${index};comb-${index % 9};1;12.00;`
  const heads = 'Order Number;Date;Email;First Name;Total;Product;SKU;Quantity;Price;Status'
  const text = [heads, ...Array.from({ length: COUNT }, (_, index) => row(index))].join('\n')
  const before = await everything()
  const done = await broughtIn(text)
  expect(done).toMatchObject({ state: 'done', counts: { rows: COUNT, taken: COUNT, known: 0, refused: 0 } })
  const is = async (query: string) => (await api.world.db.execute<{ is: string }>(sql.raw(query))).rows.map((one) => one.is)
  expect(await is(`select count(*)::text as is from orders where id like 'L%'`)).toEqual([String(COUNT)])
  expect(await is(`select count(*)::text as is from customers where email like 'long%'`)).toEqual(['700'])
  expect(await is(`select title as is from products where id like 'comb-%' order by length(title), title desc limit 1`)).toEqual([`Comb ${COUNT - 1}`])
  expect((await api.call('POST', `/api/imports/${done.id}/undo`)).statusCode).toBeLessThan(300)
  expect(await everything()).toEqual(before)
}) // prettier-ignore

test('a day after its end nothing of a file is left but what it told, and its refused rows', async () => {
  const { db } = api.world
  const { now } = await readClock(db, SHOP)
  const left = async () =>
    rowsOf(db, z.object({ of: z.string() }), sql`select distinct 'piece' as of from import_pieces
      union select 'before' from import_before union select 'refusal' from import_refusals order by 1`)
  const unbegun = await kept('email;reason\nsomebody@example.org;bounced\n')
  await broughtIn('email;reason\nother@example.org;bounced\n;bounced\n')
  await tidyImports(db, SHOP, now + DAY_MS / 2)
  expect((await left()).map(({ of }) => of)).toEqual(['before', 'piece', 'refusal'])
  await tidyImports(db, SHOP, now + 2 * DAY_MS)
  // The one that nobody has begun is waited for.
  expect((await left()).map(({ of }) => of)).toEqual(['piece', 'refusal'])
  await tidyImports(db, SHOP, now + 8 * DAY_MS)
  expect((await left()).map(({ of }) => of)).toEqual(['refusal'])
  expect((await api.call('GET', `/api/imports/${unbegun}`)).statusCode).toBe(404)
  expect(await forgetRefusedRows(db, SHOP, now + DAY_MS, 5000)).toBeGreaterThan(0)
  expect(await left()).toEqual([])
}) // prettier-ignore

describe('hostile and odd files', () => {
  test.each([
    ['nothing', '', 400],
    ['heads alone', 'a,b,c\n', 400],
    ['a row without an end', `a,b\n"${'x'.repeat(400_000)}`, 400],
    ['a thousand cells', `a,b\n${'x,'.repeat(1000)}\n`, 400],
    ['JSON that is none', '{"a": 1}\n{nonsense\n', 400],
    ['one line of JSON without end', `{"a": "${'x'.repeat(20_000_000)}`, 400],
    ['one line without end', 'x'.repeat(20_000_000), 400],
    ['a gzip bomb', gzipSync(Buffer.alloc(50_000_000)), 400],
    ['a ZIP file, or a spreadsheet', Buffer.from(zipSync({ 'a.csv': Buffer.from('a,b') })), 400],
  ])('%s: a clear answer', async (_name, text, status) => {
    const answer = await upload(text)
    expect(answer.statusCode).toBe(status)
    expect(answer.json<{ detail: string }>().detail).toMatch(/rows|cannot be read|packed/)
    const left = await api.world.db.execute(sql`select 1 from import_pieces p where not exists (select 1 from imports i where i.id = p.import_id)`) // prettier-ignore
    expect(left.rowCount).toBe(0)
  })

  test.each([
    ['RSS', '<?xml version="1.0"?><rss version="2.0" xmlns:g="urn:g"><channel><title>All</title>', 'item', '<g:id>f-1</g:id><title>Smoker &amp; bellows</title><link>https://shop.example/f-1</link><g:price>1,024.90 EUR</g:price><g:availability>in_stock</g:availability><g:image_link>https://shop.example/f-1.jpg</g:image_link><g:image_link>https://shop.example/f-2.jpg</g:image_link><g:shipping><g:price>4.90 EUR</g:price></g:shipping>', '</channel></rss>'],
    ['Atom', '<feed xmlns="http://www.w3.org/2005/Atom" xmlns:g="urn:g"><title>All</title>', 'entry', '<id>f-1</id><title><![CDATA[Smoker & bellows]]></title><link href="https://shop.example/f-1"/><g:price>1,024.90 EUR</g:price><g:availability>in stock</g:availability><g:image_link>https://shop.example/f-1.jpg</g:image_link>', '</feed>'],
  ])('a feed of products, as %s, is brought in', async (_name, head, tag, item, tail) => {
    const text = `${head}<${tag}>${item}</${tag}><${tag}>${item.replaceAll('f-1', 'f-3').replace('in_stock', 'preorder').replace('in stock', 'preorder')}</${tag}>${tail}`
    const done = await broughtIn(text)
    expect(done).toMatchObject({ kind: 'products', state: 'done', counts: { refused: 0 } })
    const rows = await rowsOf(api.world.db, z.record(z.string(), z.unknown()), sql`select id, title, url, price_minor, image_url, in_stock from products where id in ('f-1', 'f-3') order by id`)
    expect(rows).toEqual([
      { id: 'f-1', title: 'Smoker & bellows', url: 'https://shop.example/f-1', price_minor: 102_490, image_url: 'https://shop.example/f-1.jpg', in_stock: true },
      expect.objectContaining({ id: 'f-3', in_stock: false }),
    ])
  }) // prettier-ignore

  test.each([
    [
      'entities that grow',
      '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]><rss><item><id>1</id><title>&b;</title><price>1</price></item></rss>',
    ],
    ['one that is broken off', '<rss><item><id>1</id><title>a'],
    ['one that goes on without end', `<rss><item><id>1</id><title>${'x'.repeat(9_000_000)}`],
    ['one of nothing', '<rss><channel></channel></rss>'],
  ])('a hostile feed, %s: a clear answer', async (_name, text) => {
    const answer = await upload(text, 'feed.xml')
    expect(answer.statusCode).toBe(400)
    expect(answer.json<{ detail: string }>().detail).toMatch(/rows|cannot be read/)
  })

  test.each([
    [
      'UTF-16 with a mark',
      Buffer.from(`\uFEFFemail\treason\nzoë@example.org\tbounced\n`, 'utf16le'),
    ],
    ['Windows-1252', Buffer.from('email;reason\nzo\u00eb@example.org;bounced\n', 'latin1')],
    ['UTF-8 with a mark', Buffer.from('\uFEFFemail|reason\nzoë@example.org|bounced\n')],
    ['JSON Lines', Buffer.from('{"email":"zoë@example.org","reason":"bounced"}\n')],
  ])('%s is read', async (_name, bytes) => {
    const id = await kept(bytes)
    const { kind, heads } = await found(id)
    expect([kind, heads]).toEqual(['suppressions', ['email', 'reason']])
    const dry = await tried(id)
    expect(dry.counts.taken + dry.counts.known).toBe(1)
  })

  test('what is needed and has no column is said before anything is done', async () => {
    const id = await kept('email;first name;colour\nq@example.org;Q;red\n')
    const reading = { kind: 'orders', mapping: {}, format: { decimal: '.', dates: 'dmy' } }
    expect((await api.call('PUT', `/api/imports/${id}/reading`, reading)).statusCode).toBe(204)
    const answer = await api.call('POST', `/api/imports/${id}/begin`)
    expect(answer.statusCode).toBe(400)
    expect(answer.body).toContain('no column tells the order total')
    expect((await api.call('GET', `/api/imports/${id}`, undefined, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
  })

  test('an erased person does not come back by a file', async () => {
    await broughtIn('customer id,email,first name\ngone-1,gone@example.org,Gone\n')
    expect((await api.call('POST', '/api/people/gone-1/erase', { id: 'gone-1' })).statusCode).toBe(
      204,
    )
    const again = await broughtIn('customer id,email,first name,phone\nother-9,gone@example.org,Gone,\n') // prettier-ignore
    expect(again.counts).toMatchObject({ taken: 0, refused: 1 })
  })
})
