import { simpleParser } from 'mailparser'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { createApiKey } from '../backend/accounts/index.ts'
import { findMail, rawMail } from '../backend/mailbox/index.ts'
import { keepWayOut } from '../backend/messages/index.ts'
import { makeLog } from '../backend/platform/log.ts'
import { rowsOf } from '../backend/platform/db.ts'
import { plainBrand } from '../core/messages/brand.ts'
import type { Block } from '../core/blocks/blocks.ts'
import type { Step } from '../core/workflow/steps.ts'
import { IMAGE } from '../testing/image.ts'
import {
  aCustomer,
  aDefinition,
  anEmail,
  eventOf,
  on,
  orderEvent,
  START,
} from '../testing/builders.ts'
import { addPeople, PASSWORD, testConfig } from '../testing/people.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../testing/world.ts'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { buildApp } from './app.ts'
import type { App } from './context.ts'

const ORIGIN = 'http://localhost:8080'
let world: World
let app: App
let cookie: string

beforeAll(async () => {
  world = await makeWorld()
  await addPeople(world.db)
  const config = testConfig({ DATABASE_URL: world.url, PORT: 8080, SMTP_URL: world.smtpUrl })
  app = await buildApp({ db: world.db, config, publicUrl: ORIGIN, log: makeLog('silent') })
})
afterAll(async () => {
  await app.close()
  await world.close()
})

async function signIn(email: string): Promise<string> {
  const answer = await app.inject({
    method: 'POST',
    url: '/api/session',
    headers: { origin: ORIGIN },
    payload: { email, password: PASSWORD },
  })
  return String(answer.headers['set-cookie']).split(';')[0] ?? ''
}
let maren: string
beforeAll(async () => {
  maren = await signIn('maren@combwright.example')
})
beforeEach(() => {
  cookie = maren
})

const call = (method: 'GET' | 'POST' | 'PUT', url: string, payload?: object | Buffer, headers = {}) =>
  app.inject({
    method,
    url,
    headers: { origin: ORIGIN, cookie, ...headers },
    ...(payload && { payload }),
  }) // prettier-ignore

const BLOCKS: Block[] = [
  { key: 'h', kind: 'heading', level: 1, text: 'Thank you, {{ customer.first_name | default: "friend" }}' },
  { key: 'i', kind: 'items', prices: true },
  { key: 'b', kind: 'button', label: 'Look', href: 'https://combwright.example/orders?x=1&y=2' },
] // prettier-ignore
const DESIGNED = anEmail('m', { format: 'designed', subject: 'Order {{ order.number }}', blocks: BLOCKS }) // prettier-ignore
const TRIGGER = on('order.placed')
const looking = (over: object = {}) => ({ trigger: TRIGGER, message: [DESIGNED], sample: null, ...over }) // prettier-ignore

describe('looking at a message', () => {
  beforeAll(async () => {
    await world.post(
      orderEvent('order.placed', START - 1000, { id: 'p1', number: 'P1' }),
      orderEvent('order.placed', START - 500, { id: 'p2', number: 'P2', customerId: 'c9' }, { id: 'c9', firstName: 'Zoé' }), // prettier-ignore
    )
  })
  test('for whom: those the trigger concerned, the newest first, or found by name', async () => {
    const all = await call('POST', '/api/messages/samples', { trigger: TRIGGER })
    expect(all.json()).toMatchObject([
      { customerId: 'c9', subjectId: 'p2', about: 'Order P2, €42.00' },
      { customerId: 'c1', subjectId: 'p1' },
    ])
    const found = await call('POST', '/api/messages/samples', { trigger: TRIGGER, search: 'ines' })
    expect(found.json()).toHaveLength(1)
    const byHand = await call('POST', '/api/messages/samples', { trigger: { kind: 'hand', subject: 'order' } }) // prettier-ignore
    expect(byHand.json()).toMatchObject([{ subjectId: 'p2' }, { subjectId: 'p1' }])
  })
  test('as the newest of them would get it, or one who is chosen', async () => {
    const newest = (await call('POST', '/api/messages/preview', looking())).json<{ html: string; subject: string; fields: object; problem: null }>() // prettier-ignore
    expect(newest).toMatchObject({ subject: 'Order P2', problem: null, fields: { 'order.number': 'P2' } }) // prettier-ignore
    expect(newest.html).toContain('Thank you, Zoé')
    // Nothing is followed of what is only looked at.
    expect(newest.html).toContain('href="https://combwright.example/orders?x=1&amp;y=2"')
    const sample = { customerId: 'c1', subjectId: 'p1', line: null }
    const chosen = await call('POST', '/api/messages/preview', looking({ sample }))
    expect(chosen.json()).toMatchObject({ subject: 'Order P1', to: 'ines@example.org' })
  })
  test('what keeps it from being sent is said', async () => {
    const message = [{ ...DESIGNED, subject: '{{ order.tracking_url }}' }]
    const answer = await call('POST', '/api/messages/preview', looking({ message }))
    expect(answer.statusCode).toBe(200)
    expect(answer.json<{ problem: string }>().problem).toContain(
      '“tracking link” is not known here',
    )
    const nobody = { customerId: 'none', subjectId: null, line: null }
    const gone = await call('POST', '/api/messages/preview', looking({ sample: nobody }))
    expect(gone.json()).toMatchObject({ problem: 'That customer is not there any more.' })
  })
  test('without a subject yet, the text is seen, and no test is sent', async () => {
    const message = [{ ...DESIGNED, subject: ' ' }]
    const seen = await call('POST', '/api/messages/preview', looking({ message }))
    expect(seen.json()).toMatchObject({ subject: '', problem: null })
    expect(seen.json<{ html: string }>().html).toContain('Thank you, Zoé')
    const sent = await call('POST', '/api/messages/test', looking({ message }))
    expect(sent.statusCode).toBe(422)
    expect(sent.body).toContain('subject is empty')
  })
  test('what is no message is refused, with where', async () => {
    for (const message of [[], [{ key: 'w', kind: 'wait', for: 'P1D' }], [{ ...DESIGNED, blocks: [{ key: 'x', kind: 'spell' }] }]]) {
      const answer = await call('POST', '/api/messages/preview', looking({ message }))
      expect(answer.statusCode).toBe(400)
      expect(JSON.stringify(answer.json())).toContain('message')
    } // prettier-ignore
  })
  test('as a whole mail, in both parts and with the way out', async () => {
    const message = [{ ...DESIGNED, purpose: 'marketing' }]
    const answer = await call('POST', '/api/messages/eml', looking({ message }))
    const mail = await simpleParser(answer.rawPayload)
    expect(mail.subject).toBe('Order P2')
    expect(mail.html).toContain('Thank you, Zoé')
    expect(mail.text).toContain('THANK YOU, ZOÉ')
    expect(answer.body).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click\r$/m)
    expect(answer.body).toMatch(/^[^\n]*\r$/m)
  })
  test('a test goes to whoever asks, and to nobody else; staff cannot ask', async () => {
    const before = (await world.mails()).length
    const answer = await call('POST', '/api/messages/test', looking())
    expect(answer.json()).toEqual({ to: 'maren@combwright.example' })
    const mails = await world.mails()
    expect(mails.slice(before)).toMatchObject([
      { to: 'maren@combwright.example', subject: '[Test] Order P2' },
    ])
    cookie = await signIn('aoife@combwright.example')
    expect((await call('POST', '/api/messages/test', looking())).statusCode).toBe(403)
  })
})

describe('what is followed', () => {
  const events = () =>
    rowsOf(
      world.db,
      z.object({
        type: z.string(),
      }),
      sql`select type from events where shop_id = ${SHOP} and type like 'message.%' order by seq`,
    )
  const hrefOf = (html: string, kind: 'l' | 'o') =>
    new RegExp(`"${ORIGIN.replace(':8080', '')}(/${kind}/[^"]+)"`).exec(html)?.[1] ?? 'none'

  test('a click leads where the message said and comes in as an event; so does opening', async () => {
    await world.publish(aDefinition({ trigger: TRIGGER, steps: [DESIGNED] }))
    await world.post(orderEvent('order.placed', START, { id: 'f1', number: 'F1' }))
    const [mail] = (await world.mails()).slice(-1)
    const { html } = (await findMail(world.db, SHOP, mail?.id ?? 0)) ?? {}
    const link = hrefOf(html ?? '', 'l')
    expect((await app.inject({ method: 'HEAD', url: link })).statusCode).toBe(302)
    expect(await events()).toEqual([])
    const answer = await app.inject({ method: 'GET', url: link })
    expect(answer.headers['location']).toBe('https://combwright.example/orders?x=1&y=2')
    expect(answer.headers['cache-control']).toBe('no-store')
    const picture = await app.inject({ method: 'GET', url: hrefOf(html ?? '', 'o') })
    expect(picture.headers['content-type']).toBe('image/gif')
    expect(await events()).toEqual([{ type: 'message.clicked' }, { type: 'message.opened' }])
    const [row] = await rowsOf(
      world.db,
      z.object({
        opened: z.boolean(),
        clicked: z.boolean(),
      }),
      sql`select opened_at is not null as opened, clicked_at is not null as clicked from messages where shop_id = ${SHOP}`,
    )
    expect(row).toEqual({ opened: true, clicked: true })
  })
  test('nobody can be led anywhere else', async () => {
    for (const url of ['/l/eyJ4Ijoi.abc', '/l/https%3A%2F%2Fevil.example', '/s/nothing-here']) {
      expect((await app.inject({ method: 'GET', url })).statusCode).toBe(404)
    }
  })
  test('text messages have short links of their own', async () => {
    const sms: Step = {
      key: 't',
      kind: 'sms',
      name: 'Text',
      purpose: 'transactional',
      body: 'Here: https://combwright.example/orders/{{ order.number }}.',
    }
    await world.publish(aDefinition({ trigger: on('order.fulfilled'), steps: [sms, { ...sms, key: 't2', longLinks: true }] })) // prettier-ignore
    await world.post(orderEvent('order.fulfilled', START, { id: 'f2', number: 'F2' }, { phone: '+351912345678' })) // prettier-ignore
    const [short, long] = world.texts.slice(-2)
    const path = /http:\/\/localhost(\/s\/[\w-]{8})\./.exec(short?.text ?? '')?.[1] ?? 'none'
    const answer = await app.inject({ method: 'GET', url: path })
    expect(answer.headers['location']).toBe('https://combwright.example/orders/F2')
    expect(long?.text).toBe('Here: https://combwright.example/orders/F2.')
  })
})

test('a mail carries the order as a PDF when it is to', async () => {
  await world.publish(aDefinition({ trigger: on('order.completed'), steps: [{ ...DESIGNED, invoice: true }] })) // prettier-ignore
  await world.post(orderEvent('order.completed', START, { id: 'i1', number: 'I/1' }))
  const [mail] = (await world.mails()).slice(-1)
  const parsed = await simpleParser(await rawMail(world.db, SHOP, mail?.id ?? 0))
  expect(parsed.attachments).toMatchObject([
    { filename: 'invoice-I1.pdf', contentType: 'application/pdf' },
  ])
  expect(parsed.attachments[0]?.content.subarray(0, 5).toString()).toBe('%PDF-')
  expect(parsed.html).toContain('Look')
})

describe('blocks that are kept', () => {
  test('changed once, they change in every message that uses them, and in live ones', async () => {
    const help = (text: string) => ({ name: 'Help', blocks: [{ key: 'a', kind: 'help', text }] })
    const made = await call('POST', '/api/kept-blocks', help('Before'))
    const { id } = made.json<{ id: string }>()
    const message = { ...DESIGNED, blocks: [{ key: 'u', kind: 'kept', kept: id }] as Block[] }
    const seen = async () =>
      (await call('POST', '/api/messages/preview', looking({ message: [message] }))).json<{ html: string }>().html // prettier-ignore
    expect(await seen()).toContain('Before')
    await world.publish(aDefinition({ trigger: on('order.delivered'), steps: [message] }))
    expect((await call('PUT', `/api/kept-blocks/${id}`, help('After'))).statusCode).toBe(204)
    expect(await seen()).toContain('After')
    await world.post(orderEvent('order.delivered', START, { id: 'k1', number: 'K1' }))
    const [mail] = (await world.mails()).slice(-1)
    expect((await findMail(world.db, SHOP, mail?.id ?? 0)).html).toContain('After')
    expect((await call('GET', '/api/kept-blocks')).json()).toMatchObject([{ id, name: 'Help' }])
    expect((await call('PUT', '/api/kept-blocks/none', help('x'))).statusCode).toBe(404)
    const nested = { name: 'x', blocks: [{ key: 'u', kind: 'kept', kept: id }] }
    expect((await call('POST', '/api/kept-blocks', nested)).statusCode).toBe(400)
  })
})

describe('the page behind the way out', () => {
  const form = { 'content-type': 'application/x-www-form-urlencoded' }
  const choose = (url: string, body: string) => app.inject({ method: 'POST', url, headers: form, payload: body }) // prettier-ignore
  test('looking changes nothing; choices are kept, with when, and reach workflows as events', async () => {
    const customer = aCustomer({ id: 'chooser', phone: '+351912345679', emailConsent: true })
    await world.post(eventOf('customer.created', START, { customer }))
    const url = `/u/${await keepWayOut(world.db, LINK_SECRET, { shopId: SHOP, customerId: 'chooser' })}`
    const before = await app.inject({ method: 'GET', url })
    expect(before.body).toMatch(/name="email" value="yes"\s+checked/)
    expect(before.body).not.toContain('What you have chosen so far')
    const chosen = await choose(`${url}/choices`, 'sms=yes')
    expect(chosen.body).toMatch(/name="email" value="yes"\s*\/>/)
    expect(chosen.body).toMatch(/name="sms" value="yes"\s+checked/)
    expect(chosen.body).toContain('no to email')
    expect(chosen.body).toContain('yes to text messages')
    // The same again is no news.
    await choose(`${url}/choices`, 'sms=yes')
    const events = await rowsOf(world.db, z.object({
count: z.number(),
}), sql`select count(*) as count from events where customer_id = 'chooser' and type = 'consent.changed'`) // prettier-ignore
    expect(events[0]?.count).toBe(2)
    await choose(`${url}/choices`, 'email=yes&sms=yes')
    const out = await choose(url, 'List-Unsubscribe=One-Click')
    expect(out.body).not.toContain('No more news by email')
    await choose(`${url}/choices`, 'email=yes&sms=yes')
    expect((await app.inject({ method: 'GET', url })).body).toMatch(
      /name="email" value="yes"\s+checked/,
    )
  })
  test('what is no choice, and who is not there', async () => {
    const url = `/u/${await keepWayOut(world.db, LINK_SECRET, { shopId: SHOP, customerId: 'gone' })}`
    expect((await choose(url, 'List-Unsubscribe=One-Click')).statusCode).toBe(200)
    expect((await choose(url, 'anything=else')).statusCode).toBe(400)
    expect((await choose('/u/forged.token/choices', 'email=yes')).statusCode).toBe(404)
  })
})

describe('what the gateway of text messages tells', () => {
  let authorization: string
  beforeAll(async () => {
    authorization = `Bearer ${(await createApiKey(world.db, SHOP, 'gateway')).key}`
  })
  const tell = (
    url: string,
    payload: object,
    headers: Record<string, string> = { authorization },
  ) => app.inject({ method: 'POST', url, headers, payload })
  test('STOP stops text messages to that phone, and START starts them again', async () => {
    const customer = aCustomer({ id: 'texter', phone: '+351 966 123 456', smsConsent: true })
    await world.post(eventOf('customer.created', START, { customer }))
    const consent = async () =>
      (await rowsOf(world.db, z.object({
sms: z.boolean(),
email: z.boolean(),
}), sql`select may_text as sms, may_email as email from customers where id = 'texter'`))[0] // prettier-ignore
    const stopped = await tell('/v1/texts/incoming', { from: '00351966123456', text: ' Stop ' })
    expect(stopped.json()).toEqual({ understood: 'stop', people: 1 })
    expect(await consent()).toEqual({ sms: false, email: true })
    const words = await tell('/v1/texts/incoming', {
      from: '+351966123456',
      text: 'please stop by',
    })
    expect(words.json()).toEqual({ understood: null, people: 0 })
    await tell('/v1/texts/incoming', { from: '+351966123456', text: 'START' })
    expect(await consent()).toMatchObject({ sms: true })
    expect((await tell('/v1/texts/incoming', { from: 'nobody', text: 'STOP' })).statusCode).toBe(
      400,
    )
    expect(
      (await tell('/v1/texts/incoming', { from: '+351966123456', text: 'STOP' }, {})).statusCode,
    ).toBe(401)
  })
  test('that a message has arrived, or not', async () => {
    const [row] = await rowsOf(world.db, z.object({
id: z.string(),
}), sql`select message_id as id from messages where channel = 'sms' limit 1`) // prettier-ignore
    const delivered = await tell('/v1/texts/reports', { id: row?.id, status: 'delivered' })
    expect(delivered.json()).toEqual({ event: 'message.delivered' })
    expect((await tell('/v1/texts/reports', { id: row?.id, status: 'failed' })).json()).toEqual({ event: 'message.bounced' }) // prettier-ignore
    const suppressed = await rowsOf(world.db, z.unknown(), sql`select 1 from dead_addresses`) // prettier-ignore
    expect(suppressed).toEqual([])
    expect((await tell('/v1/texts/reports', { id: 'none', status: 'failed' })).statusCode).toBe(404)
  })
})

describe('the shop’s notices', () => {
  test('taken over by a live workflow that sends it, and back; the shop can ask', async () => {
    const id = await world.publish(
      aDefinition({ trigger: on('order.refunded'), steps: [DESIGNED] }),
    )
    const refund = async () =>
      (await call('GET', '/api/notices')).json<{ key: string }[]>().find(({ key }) => key === 'refunded') // prettier-ignore
    expect(await refund()).toMatchObject({ takenBy: null, trouble: 'both' })
    expect((await call('PUT', '/api/notices/refunded', { takenBy: 'none' })).statusCode).toBe(400)
    expect((await call('PUT', '/api/notices/none', { takenBy: id })).statusCode).toBe(404)
    expect((await call('PUT', '/api/notices/refunded', { takenBy: id })).statusCode).toBe(204)
    expect(await refund()).toMatchObject({ takenBy: id, trouble: null })
    const { key } = await createApiKey(world.db, SHOP, 'shop')
    const asked = await app.inject({ method: 'GET', url: '/v1/notices', headers: { authorization: `Bearer ${key}` } }) // prettier-ignore
    expect(asked.json<{ notices: object[] }>().notices).toContainEqual({ key: 'refunded', sentBy: 'yomble' }) // prettier-ignore
    expect((await app.inject({ method: 'GET', url: '/v1/notices' })).statusCode).toBe(401)
    await world.pause(id)
    expect(await refund()).toMatchObject({ takenBy: id, trouble: 'neither' })
    expect((await call('PUT', '/api/notices/refunded', { takenBy: null })).statusCode).toBe(204)
    expect(await refund()).toMatchObject({ takenBy: null, trouble: null })
  })
})

describe('the brand and its images', () => {
  test('kept, and refused with where it is wrong', async () => {
    expect((await call('GET', '/api/brand')).json()).toMatchObject({
      name: 'Combwright',
      logo: null,
    })
    const brand = { ...plainBrand('Combwright & Co'), footer: 'Bees' }
    expect((await call('PUT', '/api/brand', brand)).statusCode).toBe(204)
    expect((await call('GET', '/api/brand')).json()).toEqual(brand)
    const wrong = { ...brand, colours: { ...brand.colours, ink: 'black' } }
    const answer = await call('PUT', '/api/brand', wrong)
    expect(answer.statusCode).toBe(400)
    expect(JSON.stringify(answer.json())).toContain('colours.ink')
    cookie = await signIn('aoife@combwright.example')
    expect((await call('PUT', '/api/brand', brand)).statusCode).toBe(403)
  })
  test('an image is measured, kept and given out to everybody', async () => {
    const sent = await call('POST', '/api/files?name=logo.png', IMAGE, { 'content-type': 'image/png' }) // prettier-ignore
    expect(sent.statusCode).toBe(201)
    const { url, width, height } = sent.json<{ url: string; width: number; height: number }>()
    expect([width, height]).toEqual([3, 2])
    const loaded = await app.inject({ method: 'GET', url })
    expect(loaded.headers['content-type']).toBe('image/png')
    expect(loaded.rawPayload.equals(IMAGE)).toBe(true)
    expect((await app.inject({ method: 'GET', url: '/files/none' })).statusCode).toBe(404)
  })
  test.each([
    ['what only says it is one', Buffer.from('<svg onload="x()"></svg>'), 'image/png', 400],
    ['a drawing with scripts', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="1" height="1"/>'), 'image/svg+xml', 400],
    ['what is far too large', Buffer.alloc(2_100_000), 'image/png', 413],
  ])('%s is refused', async (_name, bytes, type, status) => {
    expect((await call('POST', '/api/files', bytes, { 'content-type': type })).statusCode).toBe(status)
  }) // prettier-ignore
})
