import { connect } from 'node:net'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { createApiKey } from '../backend/accounts/index.ts'
import { keepWayOut } from '../backend/messages/index.ts'
import { cleanText, hasOddCharacters } from '../core/shared/plainText.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, aDefinition, anEmail, eventOf, orderEvent, START } from '../testing/builders.ts'
import { LINK_SECRET, SHOP } from '../testing/world.ts'

let api: Api
let key: string
beforeAll(async () => {
  api = await makeApi()
  key = (await createApiKey(api.world.db, SHOP, 'tests')).key
})
afterAll(() => api.close())

const json = (payload: string, authorization?: string) =>
  api.app.inject({
    method: 'POST',
    url: '/v1/events',
    headers: { 'content-type': 'application/json', ...(authorization && { authorization }) },
    payload,
  })
const postEvents = async (events: unknown) => json(JSON.stringify(events), `Bearer ${key}`)

describe('bodies', () => {
  test('nothing of one is read without a key', async () => {
    const reads = vi.spyOn(JSON, 'parse')
    const answer = await json('[{"a":1}]')
    expect(answer.statusCode).toBe(401)
    expect(reads).not.toHaveBeenCalled()
    reads.mockRestore()
  })
  test('deep nesting is refused before it is parsed, with or without a session', async () => {
    const deep = `${'['.repeat(4e6)}${']'.repeat(4e6)}`
    const parsed = vi.spyOn(JSON, 'parse')
    const answer = await json(deep.slice(2e6, 6e6), `Bearer ${key}`)
    expect(parsed).not.toHaveBeenCalled()
    parsed.mockRestore()
    expect(answer.statusCode).toBe(400)
    expect(answer.json()).toMatchObject({ detail: expect.stringContaining('200 levels') as string })
    // Brackets in a text are no nesting.
    expect((await json(JSON.stringify({ id: '['.repeat(1000) }), `Bearer ${key}`)).json()).toMatchObject({ refused: 1 })
  }) // prettier-ignore
  test.each([
    ['POST', '/api/session', 65 * 1024],
    ['POST', '/api/counter/orders', 65 * 1024],
    ['POST', '/api/workflows', 4 * 1024 * 1024 + 1],
    ['POST', '/v1/events', 8 * 1024 * 1024 + 1],
  ] as const)('%s %s takes no more than it has a use for', async (method, url, bytes) => {
    const answer = await api.app.inject({
      method,
      url,
      headers: { 'content-type': 'application/json', ...(url.startsWith('/v1') && { authorization: `Bearer ${key}` }), origin: 'http://localhost:8080', cookie: api.cookies.maren },
      payload: JSON.stringify('x'.repeat(bytes)),
    })
    expect(answer.statusCode).toBe(413)
  }) // prettier-ignore
  test('conditions and splits have a limit of depth, which is said', async () => {
    let filter: object = { kind: 'all', of: [] }
    for (let depth = 0; depth < 30; depth += 1) filter = { kind: 'not', of: filter }
    const trigger = { kind: 'event', event: 'order.placed', per: 'order', filter }
    const deep = await api.call('POST', '/api/workflows', { definition: { ...aDefinition(), trigger } }) // prettier-ignore
    expect(deep.statusCode).toBe(400)
    expect(deep.body).toContain('20 levels deep')
    let steps: object[] = []
    for (let depth = 0; depth < 40; depth += 1) {
      steps = [{ key: `s${depth}`, kind: 'waitFor', event: 'order.paid', about: 'subject', limit: 'P1D', came: steps, otherwise: [] }] // prettier-ignore
    }
    const nested = await api.call('POST', '/api/workflows', { definition: { ...aDefinition(), steps } }) // prettier-ignore
    expect(nested.statusCode).toBe(400)
    expect(nested.json()).toMatchObject({ problems: [{ path: 'definition.steps', message: expect.stringContaining('20 levels deep') as string }] }) // prettier-ignore
  })
  test('thousands of faults are answered with the first twenty', async () => {
    const order = { lines: Array.from({ length: 500 }, () => ({ quantity: 'x' })) }
    const answer = await postEvents(eventOf('order.placed', START, { order }))
    const [receipt] = answer.json<{ events: { problems: unknown[] }[] }>().events
    expect(receipt?.problems).toHaveLength(20)
  })
})

/** What shoppers type, and what attackers do. */
const odd = fc.constantFrom(
  'x\ud83d',
  '\udc1dx',
  '\u0000',
  'a\u0000b',
  '\u0007',
  '\u0085',
  '\u001b[31m',
  '\\u0000',
  '\ufffd',
  '🐝',
)

describe('characters that cannot be kept', () => {
  test('in what people write: cleaned, in every field of an event', async () => {
    const texts = ['firstName', 'lastName', 'phone', 'language'] as const
    const customer = Object.fromEntries(texts.map((field) => [field, `x\ud83d${field === 'phone' ? '' : '\u0000'}`])) // prettier-ignore
    const answer = await postEvents(eventOf('customer.created', START, { customer: { id: 'odd-1', ...customer } })) // prettier-ignore
    expect(answer.json()).toMatchObject({ accepted: 1 })
    expect(await api.world.customer('odd-1')).toMatchObject({ firstName: 'x\ufffd\ufffd' })
  })
  test('in ids: refused with their path, and the others of the batch are kept', async () => {
    const good = eventOf('customer.created', START, { customer: { id: 'good-1' } })
    const bad = [
      [{ ...good, source: '/a\u0000' }, 'source'],
      [{ ...good, id: 'x\ud83d' }, 'id'],
      [eventOf('customer.created', START, { customer: { id: 'c\u0000' } }), 'data.customer.id'],
      [eventOf('customer.created', START, { customer: { id: 'c', email: 'a\u0085@example.org' } }), 'data.customer.email'],
      [orderEvent('order.placed', START, { trackingUrl: 'https://x.example/\ud83d' }), 'data.order.trackingUrl'],
    ] as const // prettier-ignore
    const answer = await postEvents([good, ...bad.map(([event]) => event)])
    expect(answer.statusCode).toBe(207)
    const { events } = answer.json<{
      events: { status: string; problems?: { path: string }[] }[]
    }>()
    expect(events[0]?.status).toBe('accepted')
    expect(events.slice(1).map(({ problems }) => problems?.[0]?.path)).toEqual(bad.map(([, path]) => path)) // prettier-ignore
  })
  test('anywhere in an event: never an error of ours, never lost (fuzz)', async () => {
    let count = 0
    const events = [
      () => orderEvent('order.placed', START, { shippingAddress: { city: 'Porto' }, paymentMethod: 'card', couponCodes: ['A'] }, { phone: '+351912345678', tags: ['vip'] }),
      () => eventOf('review.submitted', START, { review: { id: 'r1', customerId: 'c1', stars: 4, text: 'Good', title: 'x' } }),
      () => eventOf('product.viewed', START, { product: { customerId: 'c1', productId: 'p1', title: 'Brush', category: 'x', tags: ['a'] } }),
      () => eventOf('message.bounced', START, { message: { customerId: 'c1', id: '<a@b>', permanent: true, address: 'a@b.example' } }),
      () => eventOf('consent.changed', START, { consent: { customerId: 'c1', channel: 'email', given: true, how: 'form' } }),
    ] // prettier-ignore
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.nat(), odd, fc.boolean(), async (which, place, text, append) => {
        const event = { ...events[which % events.length]?.(), id: `fuzz-${(count += 1)}` }
        const paths = textPaths(event)
        const path = paths[place % paths.length] ?? []
        const before = path.reduce<unknown>((value, part) => (value as Record<string, unknown>)[part], event) as string
        const changed = withText(event, path, append || path[0] === 'id' ? `${before}${text}` : text)
        const good = { ...orderEvent('order.placed', START), id: `good-${count}` }
        const answer = await postEvents([good, changed])
        expect([200, 207]).toContain(answer.statusCode)
        const [first, second] = answer.json<{ events: { status: string; problems?: { path: string }[] }[] }>().events
        expect(first?.status).toBe('accepted')
        if (second?.status === 'refused') expect(second.problems?.length).toBeGreaterThan(0)
        else expect(second?.status).toBe('accepted')
      }),
      { numRuns: 300 },
    )
  }) // prettier-ignore
  test('in paths, queries, names and drafts of the interface: no error of ours (fuzz)', async () => {
    await fc.assert(
      fc.asyncProperty(odd, async (text) => {
        const encoded = encodeURIComponent(cleanText(text)).replaceAll('%EF%BF%BD', '%00')
        const gets = ['/api/workflows/X', '/api/workflows/X/numbers', '/api/ledger?search=X', '/api/ledger?workflow=X', '/api/mails?search=X', '/api/counter/customers?search=X', '/files/X', '/l/X', '/s/X', '/o/X', '/u/X', '/confirm-sender/X', '/api/documents/X', '/X', '/v1/X']
        for (const url of gets) {
          const answer = await api.call('GET', url.replace('X', encoded))
          expect(answer.statusCode, url).toBeLessThan(500)
        }
        const posts: [url: string, body: object][] = [
          ['/api/session', { email: text, password: text }],
          ['/api/keys', { name: `k${text}` }],
          ['/api/senders', { name: text, address: `a${text}@example.org` }],
          ['/api/workflows', { definition: { ...aDefinition(), name: `n${text}`, description: text } }],
          ['/api/messages/samples', { trigger: aDefinition().trigger, search: text }],
          ['/api/counter/orders', { customer: { id: text }, lines: [{ productId: text, quantity: 1 }] }],
        ]
        for (const [url, body] of posts) {
          const answer = await api.call('POST', url, body)
          expect(answer.statusCode, url).toBeLessThan(500)
        }
        const group = await api.call('PUT', '/api/staff-groups/care', { name: text, addresses: [`a${text}@example.org`] })
        expect(group.statusCode).toBeLessThan(500)
      }),
      { numRuns: 20 },
    )
    const { rows } = await api.world.db.execute<{ name: string }>(sql`select draft->>'name' as name from workflows`)
    expect(rows.filter(({ name }) => hasOddCharacters(name))).toEqual([])
  }) // prettier-ignore
})

/** The places of all texts in a value, but for those that say what kind of event it is. */
function textPaths(value: unknown, path: string[] = []): string[][] {
  if (typeof value === 'string') {
    return ['type', 'specversion', 'time'].includes(path[0] ?? '') ? [] : [path]
  }
  if (typeof value !== 'object' || value === null) return []
  return Object.entries(value).flatMap(([name, part]) => textPaths(part, [...path, name]))
}

function withText(value: unknown, [first, ...rest]: readonly string[], text: string): unknown {
  if (first === undefined) return text
  if (Array.isArray(value)) {
    return value.map((part: unknown, index) => (String(index) === first ? withText(part, rest, text) : part)) // prettier-ignore
  }
  const record = value as Record<string, unknown>
  return { ...record, [first]: withText(record[first], rest, text) }
}

describe('links of messages', () => {
  test('fifty times one link is one click; over its limit it is refused', async () => {
    await api.call('PUT', '/api/brand', (await api.call('GET', '/api/brand')).json())
    const definition = aDefinition({
      steps: [anEmail('m', { format: 'letter', body: 'See <a href="https://shop.example/">it</a>' })],
    }) // prettier-ignore
    await api.world.publish(definition)
    await api.world.post(orderEvent('order.placed', START, { id: 'clicks', customerId: 'clicker' }))
    const { rows } = await api.world.db.execute<{ html: string }>(sql`select html from mails where html is not null order by id desc limit 1`) // prettier-ignore
    const url = /href="http:\/\/localhost(\/l\/[^"]+)"/.exec(rows[0]?.html ?? '')?.[1] ?? ''
    const codes = await Promise.all(Array.from({ length: 50 }, async () => (await api.app.inject({ url })).statusCode)) // prettier-ignore
    expect(new Set(codes)).toEqual(new Set([302]))
    const clicks = async () => (await api.world.db.execute(sql`select 1 from events where type = 'message.clicked'`)).rows.length // prettier-ignore
    expect(await clicks()).toBe(1)
    const many = await Promise.all(Array.from({ length: 90 }, async () => (await api.app.inject({ url })).statusCode)) // prettier-ignore
    expect(many.filter((code) => code === 429).length).toBeGreaterThan(0)
    expect(await clicks()).toBe(1)
  })
  test('thirty posts of one choice are one change of consent', async () => {
    await api.world.post(eventOf('customer.created', START, { customer: aCustomer({ id: 'poster' }) })) // prettier-ignore
    const token = await keepWayOut(api.world.db, LINK_SECRET, { shopId: SHOP, customerId: 'poster' }) // prettier-ignore
    const choose = () =>
      api.app.inject({ method: 'POST', url: `/u/${token}/choices`, headers: { 'content-type': 'application/x-www-form-urlencoded' }, payload: '' }) // prettier-ignore
    await Promise.all(Array.from({ length: 30 }, choose))
    const { rows } = await api.world.db.execute(sql`select 1 from events where type = 'consent.changed' and customer_id = 'poster'`) // prettier-ignore
    expect(rows).toHaveLength(1)
  })
  test('one click works for every id that events may have, in both forms (RFC 8058, property)', async () => {
    const id = fc
      .string({ minLength: 1, maxLength: 200, unit: 'binary' })
      .map((text) => cleanText(text).replaceAll('\ufffd', 'x').trim().slice(0, 200))
      .map((text) => cleanText(text).replaceAll('\ufffd', 'x').trim())
      .filter((text) => text !== '')
    const examples: [string][] = [['3f1c1f2e-8a3b-4f6e-9d1c-2b7a6f5e4d3c'], ['x'.repeat(200)], ['🐝'.repeat(100)]]
    await fc.assert(
      fc.asyncProperty(id, async (customerId) => {
        const taken = await postEvents(eventOf('customer.created', START, { customer: { id: customerId, email: 'out@example.org', emailConsent: true } }))
        expect(taken.json()).toMatchObject({ accepted: 1 })
        const token = await keepWayOut(api.world.db, LINK_SECRET, { shopId: SHOP, customerId })
        expect(token).toMatch(/^[\w-]{32}$/)
        const boundary = 'x1'
        const answer = await api.app.inject({
          method: 'POST',
          url: `/u/${token}`,
          headers: { 'content-type': `multipart/form-data; boundary=${boundary}` },
          payload: `--${boundary}\r\nContent-Disposition: form-data; name="List-Unsubscribe"\r\n\r\nOne-Click\r\n--${boundary}--\r\n`,
        })
        expect(answer.statusCode).toBe(200)
        expect(await api.world.customer(customerId)).toMatchObject({ emailConsent: false, suppressed: 'unsubscribed' })
      }),
      { numRuns: 30, examples },
    )
  }) // prettier-ignore
})

describe('signing in', () => {
  const tryIn = (email: string, password = 'wrong', remoteAddress = '10.0.0.1') =>
    api.app.inject({ method: 'POST', url: '/api/session', remoteAddress, headers: { origin: 'http://localhost:8080' }, payload: { email, password } }) // prettier-ignore
  test('twenty wrong tries for an account, then none for a while, from anywhere; the right word forgets them', async () => {
    await Promise.all(Array.from({ length: 10 }, () => tryIn('aoife@combwright.example')))
    expect((await tryIn('aoife@combwright.example', 'first inspection day')).statusCode).toBe(204)
    const codes = await Promise.all(Array.from({ length: 24 }, async (_one, index) => (await tryIn('Maren@combwright.example', 'wrong', `10.0.1.${index}`)).statusCode)) // prettier-ignore
    expect(codes.filter((code) => code === 401)).toHaveLength(20)
    const late = await tryIn('maren@combwright.example', 'first inspection day', '10.0.2.1')
    expect(late.statusCode).toBe(429)
    expect(Number(late.headers['retry-after'])).toBeGreaterThan(60)
    // Who is signed in stays so.
    expect((await api.call('GET', '/api/session')).statusCode).toBe(200)
    await api.world.db.execute(sql`update sign_in_tries set began_at = 0`)
    expect((await tryIn('maren@combwright.example', 'first inspection day')).statusCode).toBe(204)
  })
})

describe('answers', () => {
  test('about people are kept by no cache', async () => {
    for (const url of ['/api/ledger', '/api/session', '/api/workflows']) {
      expect((await api.call('GET', url)).headers['cache-control'], url).toBe('no-store')
    }
  })
  test('a number that is out of range is no error of ours', async () => {
    const { id } = (await api.call('POST', '/api/workflows', { definition: aDefinition() })).json<{ id: string }>() // prettier-ignore
    const answer = await api.call('GET', `/api/workflows/${id}/versions/99999999999`)
    expect(answer.statusCode).toBe(400)
  })
  test('the clock stays within a hundred years, and is for marketers', async () => {
    expect((await api.call('POST', '/api/clock', { target: 9e15 })).statusCode).toBe(400)
    expect((await api.call('POST', '/api/clock', { target: START + 1000 }, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
  })
})

test('what takes long is given up when nobody waits for it any more', async () => {
  const address = await api.app.listen({ host: '127.0.0.1', port: 0 })
  const running = async () =>
    (await api.world.db.execute(sql`select 1 from pg_stat_activity where query like '%ilike%' and state = 'active' and pid <> pg_backend_pid()`)).rows.length // prettier-ignore
  // A lock makes the search wait, as a large table would.
  const lock = await api.world.db.$client.connect()
  await lock.query('begin; lock table customers in access exclusive mode')
  const socket = connect(Number(new URL(address).port), '127.0.0.1')
  socket.write(`GET /api/ledger?search=ines HTTP/1.1\r\nHost: x\r\nCookie: ${api.cookies.maren}\r\n\r\n`) // prettier-ignore
  await vi.waitFor(async () => expect(await running()).toBe(1), { timeout: 5000 })
  socket.destroy()
  await vi.waitFor(async () => expect(await running()).toBe(0), { timeout: 5000 })
  await lock.query('rollback')
  lock.release()
})
