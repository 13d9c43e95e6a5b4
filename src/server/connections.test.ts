import { createHmac } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { Webhook } from 'standardwebhooks'
import type { ConnectionDetail, TryAnswer } from '../contract/connections.ts'
import { makeApi, type Api } from '../testing/api.ts'

let api: Api
let id: string
let path: string
beforeAll(async () => {
  api = await makeApi()
  const made = (await api.call('POST', '/api/connections', { name: 'Till' })).json<{ id: string; address: string }>() // prettier-ignore
  id = made.id
  path = new URL(made.address).pathname
})
afterAll(() => api.close())

/** What a till sends that has never heard of us. */
const sale = (over: object = {}) =>
  JSON.stringify({
    receipt: 881,
    sold_at: '2026-04-14T08:00:00Z',
    buyer: { nr: 17, mail: 'till@example.org', given_name: 'Tilly' },
    positions: [{ art: 'q-1', text: 'Queen cage', pcs: 2, each: '4.20' }],
    sum: 8.4,
    ...over,
  })
const MAPPING = `{
  "type": "order.placed",
  "id": "receipt " & receipt,
  "time": sold_at,
  "data": {
    "order": {
      "id": "till-" & receipt, "number": $string(receipt), "customerId": "till-" & buyer.nr, "currency": "EUR",
      "totalMinor": $round(sum * 100),
      "lines": [positions.{ "productId": art, "title": text, "quantity": pcs, "unitPriceMinor": $round($number(each) * 100) }]
    },
    "customer": { "id": "till-" & buyer.nr, "email": buyer.mail, "firstName": buyer.given_name }
  }
}`

const arrives = (body: string, headers: Record<string, string> = {}) =>
  api.app.inject({ method: 'POST', url: path, payload: body, headers: { 'content-type': 'application/json', ...headers } }) // prettier-ignore
const change = (to: object) => api.call('PUT', `/api/connections/${id}`, to)
const detail = async () =>
  (await api.call('GET', `/api/connections/${id}`)).json<ConnectionDetail>()
const attempt = async (mapping: string, body = sale()) =>
  (await api.call('POST', `/api/connections/${id}/try`, { mapping, body })).json<TryAnswer>()

describe('a body in another language', () => {
  test('is kept before anybody has said how to read it, mapped, refused, mended, replayed', async () => {
    const first = await arrives(sale())
    expect(first.statusCode).toBe(202)
    expect(first.json()).toMatchObject({ state: 'refused', problems: [{ path: 'mapping', message: 'is not written yet' }] }) // prettier-ignore

    const wrong = MAPPING.replace('"totalMinor": $round(sum * 100)', '"totalMinor": sum')
    const tried = await attempt(wrong)
    expect(tried.problems).toEqual([{ path: '0.data.order.totalMinor', message: expect.any(String) }]) // prettier-ignore
    await change({ mapping: wrong })
    expect((await arrives(sale({ receipt: 882 }))).json()).toMatchObject({ state: 'refused', events: 0 }) // prettier-ignore

    const mended = await attempt(MAPPING)
    expect(mended).toMatchObject({ problems: [], events: [{ type: 'order.placed', id: 'receipt 881' }] }) // prettier-ignore
    await change({ mapping: MAPPING })
    expect((await arrives(sale({ receipt: 883 }))).json()).toMatchObject({ state: 'taken', events: 1 }) // prettier-ignore
    expect((await api.call('POST', `/api/connections/${id}/replay`)).json()).toEqual({ taken: 2, refused: 0 }) // prettier-ignore
    await api.world.settle()
    const { people } = (await api.call('POST', '/api/people/search', { search: 'till@' })).json<{ people: object[] }>() // prettier-ignore
    expect(people).toMatchObject([{ name: 'Tilly', orders: 3, spentMinor: 2520 }])
    expect((await detail()).bodies.map(({ state }) => state)).toEqual(['taken', 'taken', 'taken'])
    // Sent once more, it is known again.
    expect((await arrives(sale())).json()).toMatchObject({ state: 'taken', events: 0 })
  })

  test('that is of no interest is taken and comes to nothing', async () => {
    await change({ mapping: `receipt > 100000 ? ${MAPPING}` })
    expect((await arrives(sale())).json()).toEqual({ state: 'taken', events: 0, problems: [] })
    await change({ mapping: MAPPING })
  })

  test('somewhere else than at its address leads nowhere; a new address ends the old one', async () => {
    const other = await api.app.inject({ method: 'POST', url: '/v1/in/guess', payload: sale() })
    expect(other.statusCode).toBe(404)
    const old = path
    const made = (await api.call('POST', `/api/connections/${id}/address`)).json<{ address: string }>() // prettier-ignore
    path = new URL(made.address).pathname
    expect((await arrives(sale())).statusCode).toBe(202)
    expect((await api.app.inject({ method: 'POST', url: old, payload: sale() })).statusCode).toBe(404) // prettier-ignore
    expect((await api.call('GET', `/api/connections/${id}`, undefined, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
  })
})

describe('signatures', () => {
  const secret = 'c2VjcmV0IGVub3VnaCBmb3IgdGVzdHM='

  test('HMAC over the body as it came, in the header and encoding that were chosen', async () => {
    await change({ signature: { kind: 'hmac', header: 'X-Sum', encoding: 'base64', prefix: 'v1=', secret } }) // prettier-ignore
    const body = `${sale({ receipt: 900 })}\n  `
    const sum = createHmac('sha256', secret).update(body).digest('base64')
    expect((await arrives(body)).statusCode).toBe(401)
    expect((await arrives(body, { 'x-sum': `v1=${sum}`.replace('A', 'B') + 'x' })).statusCode).toBe(401) // prettier-ignore
    expect((await arrives(body.trim(), { 'x-sum': `v1=${sum}` })).statusCode).toBe(401)
    expect((await arrives(body, { 'x-sum': `v1=${sum}` })).statusCode).toBe(202)
    const { rule, bodies } = await detail()
    expect(JSON.stringify(rule)).not.toContain(secret)
    expect(bodies.filter(({ state }) => state === 'unsigned')).toHaveLength(3)
  })

  test('Standard Webhooks, by its own library', async () => {
    await change({ signature: { kind: 'standard', secret } })
    const body = sale({ receipt: 901 })
    const at = new Date()
    const headers = {
      'webhook-id': 'msg_1',
      'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
      'webhook-signature': new Webhook(secret).sign('msg_1', at, body),
    }
    expect((await arrives(body, headers)).statusCode).toBe(202)
    expect((await arrives(body, { ...headers, 'webhook-id': 'msg_2' })).statusCode).toBe(401)
    await change({ signature: null })
  })
})

describe('hostile expressions', () => {
  test.each([
    ['goes on for ever', '($f := function($n) { $f($n + 1) }; $f(0))', /longer than 1 s/],
    ['nests without end', '($f := function($n) { 1 + $f($n + 1) }; $f(0))', /took|stack|ended/i],
    ['eats memory', '($f := function($a) { $f($append($a, $a)) }; $f([1..100000]))', /memory|longer|ended/], // prettier-ignore
    ['is none', '{ "type": ', /character/],
  ])('one that %s is ended, and the next one is answered', async (_name, mapping, said) => {
    const { problems } = await attempt(mapping)
    expect(problems[0]?.message).toMatch(said)
    expect((await attempt('{ "type": "x" }')).problems[0]?.path).toBe('0.data')
  })

  test('a body that is no JSON, or nested without end, is kept and refused', async () => {
    expect((await arrives('receipt=1&sum=2')).json()).toMatchObject({ state: 'refused', problems: [{ path: 'body' }] }) // prettier-ignore
    const deep = await arrives('['.repeat(200_000) + ']'.repeat(200_000))
    expect([202, 400]).toContain(deep.statusCode)
    expect((await arrives(`"${'x'.repeat(1_100_000)}"`)).statusCode).toBe(413)
  })
})
