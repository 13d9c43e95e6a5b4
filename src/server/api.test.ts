import { brotliDecompressSync } from 'node:zlib'
import { findImage, storeImage } from '../backend/files/index.ts'
import { keepDesign } from '../backend/messages/index.ts'
import { IMAGE } from '../testing/image.ts'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { createApiKey, hashPassword, keepUser } from '../backend/accounts/index.ts'
import { makeLog } from '../backend/platform/log.ts'
import { keepWayOut, unsubscribeToken } from '../backend/messages/index.ts'
import { createWorkflow } from '../backend/workflows/index.ts'
import { formatInstant } from '../core/shared/time.ts'
import { aDefinition, anEmail, orderEvent, START, thanksDefinition } from '../testing/builders.ts'
import { addPeople, PASSWORD, testConfig } from '../testing/people.ts'
import { addShop, LINK_SECRET, makeWorld, SHOP, type World } from '../testing/world.ts'
import { buildApp } from './app.ts'
import type { App } from './context.ts'

const ORIGIN = 'http://localhost:8080'
let world: World
let app: App
let key: string

beforeAll(async () => {
  world = await makeWorld()
  await addShop(world.db, 'other-shop')
  await addPeople(world.db)
  await keepUser(world.db, 'other-shop', {
    id: 'o',
    email: 'other@combwright.example',
    name: 'Other',
    role: 'marketer',
    passwordHash: await hashPassword(PASSWORD),
  })
  key = (await createApiKey(world.db, SHOP, 'tests')).key
  const config = testConfig({ DATABASE_URL: world.url, PORT: 8080 })
  app = await buildApp({ db: world.db, config, publicUrl: ORIGIN, log: makeLog('silent') })
})
afterAll(async () => {
  await app.close()
  await world.close()
})

async function signIn(email = 'maren@combwright.example', password = PASSWORD) {
  return app.inject({
    method: 'POST',
    url: '/api/session',
    headers: { origin: ORIGIN },
    payload: { email, password },
  })
}

async function cookieOf(email?: string): Promise<string> {
  const response = await signIn(email)
  return String(response.headers['set-cookie']).split(';')[0] ?? ''
}

const post = (payload: unknown, headers: Record<string, string> = {}) =>
  app.inject({
    method: 'POST',
    url: '/v1/events',
    headers: {
      authorization: `Bearer ${key}`,
      'content-type': 'application/cloudevents+json',
      ...headers,
    },
    payload: JSON.stringify(payload),
  })
const BATCH = { 'content-type': 'application/cloudevents-batch+json' }

describe('events over HTTP', () => {
  test('single, structured', async () => {
    const response = await post(orderEvent('order.placed', START))
    expect(response.statusCode).toBe(200)
    expect(response.json()).toMatchObject({ accepted: 1, duplicates: 0, refused: 0 })
  })
  test('a batch keeps the good ones and says which are bad, and where', async () => {
    const good = orderEvent('order.placed', START, { id: 'b1' })
    const bad = { ...orderEvent('order.placed', START, { id: 'b2' }), time: 'soon' }
    const response = await post([good, bad, good], BATCH)
    expect(response.statusCode).toBe(207)
    expect(response.json()).toMatchObject({
      accepted: 1,
      duplicates: 1,
      refused: 1,
      events: [
        { index: 0, status: 'accepted' },
        {
          index: 1,
          status: 'refused',
          id: bad.id,
          problems: [{ path: 'time', message: expect.stringContaining('RFC 3339') }],
        },
        { index: 2, status: 'duplicate' },
      ],
    })
  })
  test('an empty batch is fine; nothing but bad events is a 400', async () => {
    expect((await post([], BATCH)).statusCode).toBe(200)
    expect((await post({ specversion: '1.0' })).statusCode).toBe(400)
  })
  test('an event of the future is refused with the shop’s time', async () => {
    const response = await post(orderEvent('order.placed', START + 86_400_000))
    expect(response.json()).toMatchObject({
      events: [
        { problems: [{ path: 'time', message: expect.stringContaining(formatInstant(START)) }] },
      ],
    })
  })
  test('what is no JSON is a clear 400', async () => {
    const response = await app.inject({
      method: 'POST',
      url: '/v1/events',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/cloudevents+json' },
      payload: '{',
    })
    expect(response.statusCode).toBe(400)
    expect(response.json()).toMatchObject({ code: 'bad_input' })
  })
  test.each([{ authorization: '' }, { authorization: 'Bearer nonsense' }])(
    'no key, no entry: %j',
    async (headers) => {
      expect((await post(orderEvent('order.placed', START), headers)).statusCode).toBe(401)
    },
  )
  test('keys of the payload that aim at prototypes change nothing', async () => {
    const event = JSON.parse(
      JSON.stringify(orderEvent('order.placed', START, { id: 'proto' })).replace(
        '"order":{',
        '"__proto__":{"polluted":1},"order":{',
      ),
    ) as object
    await post(event)
    expect(({} as { polluted?: number }).polluted).toBeUndefined()
  })
})

describe('signing in', () => {
  test('the cookie is HttpOnly and SameSite; each sign-in gives a new one; signing out ends it', async () => {
    const first = await signIn()
    expect(first.statusCode).toBe(204)
    expect(String(first.headers['set-cookie'])).toMatch(/HttpOnly/)
    expect(String(first.headers['set-cookie'])).toMatch(/SameSite=Lax/)
    const cookie = await cookieOf()
    expect(String(first.headers['set-cookie'])).not.toContain(cookie)
    expect((await app.inject({ url: '/api/session', headers: { cookie } })).json()).toMatchObject({
      user: { name: 'Maren' },
    })
    await app.inject({ method: 'DELETE', url: '/api/session', headers: { cookie, origin: ORIGIN } })
    expect((await app.inject({ url: '/api/session', headers: { cookie } })).statusCode).toBe(401)
  })
  test('a wrong password and an unknown address get the same answer', async () => {
    const wrong = await signIn('maren@combwright.example', 'not the password')
    const unknown = await signIn('nobody@combwright.example', 'not the password')
    expect(wrong.statusCode).toBe(401)
    expect(wrong.json()).toEqual(unknown.json())
  })
  test('passwords and keys are stored hashed', async () => {
    const { rows } = await world.db.execute(
      'select password_hash as hash from accounts union all select key_hash from api_keys',
    )
    for (const row of rows) expect(String(row['hash'])).not.toContain(PASSWORD)
    expect(rows.some((row) => String(row['hash']).startsWith('scrypt$131072$8$1$'))).toBe(true)
    expect(JSON.stringify(rows)).not.toContain(key)
  })
})

describe('who may do what', () => {
  test('a write from another site is refused, and one without an origin', async () => {
    const cookie = await cookieOf()
    for (const headers of [
      { cookie, origin: 'https://evil.example' },
      { cookie, origin: 'null' },
      { cookie },
    ]) {
      const response = await app.inject({
        method: 'POST',
        url: '/api/clock',
        headers,
        payload: { toNextDue: true },
      })
      expect(response.statusCode).toBe(403)
      expect(response.json()).toMatchObject({ code: 'wrong_origin' })
    }
  })
  test('staff may look but not switch on', async () => {
    const cookie = await cookieOf('aoife@combwright.example')
    expect((await app.inject({ url: '/api/workflows', headers: { cookie } })).statusCode).toBe(200)
    const response = await app.inject({
      method: 'POST',
      url: '/api/workflows',
      headers: { cookie, origin: ORIGIN },
      payload: { definition: aDefinition() },
    })
    expect(response.statusCode).toBe(403)
  })
  test('another shop’s things do not exist', async () => {
    const id = await createWorkflow(world.db, SHOP, thanksDefinition())
    await post(orderEvent('order.placed', START, { id: 'secret', number: '777' }))
    const design = await keepDesign(world.db, SHOP, { name: 'Ours', subject: '', previewText: '', blocks: [{ key: 'd', kind: 'divider' }] }) // prettier-ignore
    const picture = await storeImage(world.db, SHOP, { name: 'ours.png', bytes: IMAGE })
    const cookie = await cookieOf('other@combwright.example')
    for (const url of [
      `/api/designs/${design.id}/revisions/1`,
      `/api/workflows/${id}`,
      `/api/workflows/${id}/numbers`,
      `/api/workflows/${id}/versions`,
      `/api/workflows/${id}/versions/1`,
      '/api/runs/1',
      '/api/mails/1',
      '/api/mails/1/source',
    ]) {
      expect((await app.inject({ url, headers: { cookie } })).statusCode, url).toBe(404)
    }
    for (const [method, url, payload] of [
      ['PUT', `/api/workflows/${id}/draft`, { revision: 0, definition: aDefinition() }],
      ['POST', `/api/workflows/${id}/go-live`, { revision: 0 }],
      ['POST', `/api/workflows/${id}/pause`, undefined],
      ['DELETE', `/api/workflows/${id}`, undefined],
      ['POST', `/api/workflows/${id}/visit`, { visit: 'window-of-another' }],
      ['POST', '/api/counter/orders/secret/events', { action: 'refunded' }],
    ] as const) {
      const response = await app.inject({
        method,
        url,
        headers: { cookie, origin: ORIGIN },
        ...(payload ? { payload } : {}),
      })
      expect(response.statusCode, url).toBe(404)
    }
    expect((await app.inject({ url: '/api/counter/orders', headers: { cookie } })).json()).toEqual(
      [],
    )
    expect((await app.inject({ url: '/api/designs', headers: { cookie } })).json()).toEqual([])
    expect((await app.inject({ url: '/api/files', headers: { cookie } })).json()).toEqual({ pictures: [], documents: [] }) // prettier-ignore
    await app.inject({ method: 'DELETE', url: `/api/files/${picture.id}`, headers: { cookie, origin: ORIGIN } }) // prettier-ignore
    expect(await findImage(world.db, picture.id)).not.toBeNull()
    expect((await app.inject({ url: '/api/ledger', headers: { cookie } })).json()).toEqual({
      rows: [],
      more: false,
    })
  })
  test('without a session nothing is told', async () => {
    for (const url of [
      '/api/workflows',
      '/api/live-workflows',
      '/api/ledger',
      '/api/attention',
      '/api/mails',
      '/api/clock',
      '/api/keys',
      '/api/counter/products',
    ]) {
      expect((await app.inject({ url })).statusCode, url).toBe(401)
    }
  })
})

describe('conditions asked of the past', () => {
  const total = {
    kind: 'field',
    field: 'order.total',
    op: 'gte',
    value: { amountMinor: 4000, currency: 'EUR' },
  }
  const trigger = { kind: 'event', event: 'order.placed' }
  const ask = async (url: string, payload: object, email?: string) =>
    app.inject({
      method: 'POST',
      url: `/api/${url}`,
      headers: { cookie: await cookieOf(email), origin: ORIGIN },
      payload,
    })

  test('count the shop’s own and nobody else’s', async () => {
    await post(orderEvent('order.placed', START, { id: 'counted', number: '900', customerId: 'cc' }, { id: 'cc' }))
    const counted = await ask('conditions/count', { trigger, conditions: [total] })
    expect(counted.json<{ of: number }>().of).toBeGreaterThan(0)
    const body = { trigger, conditions: [total] }
    expect((await ask('conditions/count', body, 'other@combwright.example')).json()).toMatchObject({ of: 0, held: [0] })
    const together = { trigger, branches: [] }
    expect((await ask('conditions/combinations', together)).json<{ combinations: unknown[] }>().combinations.length).toBeGreaterThan(0)
    expect((await ask('conditions/combinations', together, 'other@combwright.example')).json()).toEqual({ combinations: [], since: null })
  })
  test('a workflow is run over the shop’s own past and nobody else’s', async () => {
    await post(orderEvent('order.placed', START, { id: 'lived', number: '901', customerId: 'cd' }, { id: 'cd' }))
    const entered = async (email?: string) =>
      (await ask('workflows/replay', { definition: aDefinition() }, email)).json<{ numbers: { total: { entered: number } } }>().numbers.total.entered
    expect(await entered()).toBeGreaterThan(0)
    expect(await entered('other@combwright.example')).toBe(0)
  })
  test('what cannot be said of the past is not', async () => {
    const since = { kind: 'history', event: 'order.refunded', about: 'subject', count: { op: 'atLeast', times: 1 }, window: { kind: 'sinceEntry' } }
    expect((await ask('conditions/count', { trigger, conditions: [since] })).json()).toBeNull()
    expect((await ask('conditions/count', { trigger: { kind: 'hand', subject: 'order' }, conditions: [total] })).json()).toBeNull()
  })
  test('a condition that is none is refused with the path', async () => {
    const response = await ask('conditions/count', { trigger, conditions: [{ ...total, value: 'much' }] })
    expect(response.statusCode).toBe(400)
    expect(response.json()).toMatchObject({ problems: [{ path: 'conditions.0.value' }] })
  })
}) // prettier-ignore

describe('workflows', () => {
  test('every version can be read; one that never was cannot', async () => {
    const headers = { cookie: await cookieOf(), origin: ORIGIN }
    const id = await world.publish(aDefinition({ name: 'Versioned' }))
    const get = (path: string) =>
      app.inject({ url: `/api/workflows/${id}/versions${path}`, headers })
    expect((await get('')).json()).toMatchObject([{ version: 1, inProgress: 0 }])
    expect((await get('/1')).json()).toMatchObject({ definition: { name: 'Versioned' } })
    expect((await get('/2')).statusCode).toBe(404)
    expect((await get('/none')).statusCode).toBe(400)
    const live = await app.inject({ url: '/api/live-workflows', headers })
    expect(live.json<{ id: string }[]>().map((one) => one.id)).toContain(id)
  })
  test('a draft is saved on its revision; a second save on the same one is a conflict', async () => {
    const cookie = await cookieOf()
    const headers = { cookie, origin: ORIGIN }
    const id = await createWorkflow(world.db, SHOP, thanksDefinition())
    const save = (name: string) =>
      app.inject({
        method: 'PUT',
        url: `/api/workflows/${id}/draft`,
        headers,
        payload: { revision: 0, definition: { ...thanksDefinition(), name } },
      })
    expect((await save('Mine')).json()).toEqual({ draftRevision: 1 })
    const second = await save('Theirs')
    expect(second.statusCode).toBe(409)
    expect((await app.inject({ url: `/api/workflows/${id}`, headers })).json()).toMatchObject({
      draft: { name: 'Mine' },
    })
  })
  test('a draft with errors does not go live, and says why', async () => {
    const headers = { cookie: await cookieOf(), origin: ORIGIN }
    const id = await createWorkflow(
      world.db,
      SHOP,
      aDefinition({ steps: [anEmail('m', { subject: '' })] }),
    )
    const response = await app.inject({
      method: 'POST',
      url: `/api/workflows/${id}/go-live`,
      headers,
      payload: { revision: 0 },
    })
    expect(response.statusCode).toBe(422)
    expect(response.json()).toMatchObject({
      problems: [{ path: 'no-subject', code: 'no-subject' }],
    })
  })
  test('a document that is none is refused with the path', async () => {
    const headers = { cookie: await cookieOf(), origin: ORIGIN }
    const definition = { ...aDefinition(), steps: [{ key: 'w', kind: 'wait', for: 'P0.5D' }] }
    const create = (payload: object) =>
      app.inject({ method: 'POST', url: '/api/workflows', headers, payload })
    const response = await create({ definition })
    expect(response.statusCode).toBe(400)
    expect(response.json()).toMatchObject({ problems: [{ path: 'definition.steps.0.for' }] })
    const long = await create({ definition: aDefinition({ name: 'x'.repeat(121) }) })
    expect(long.json()).toMatchObject({
      problems: [{ path: 'definition.name', message: 'is longer than 120 characters' }],
    })
  })
  test('the API describes itself', async () => {
    const openapi = (await app.inject({ url: '/api/openapi.json' })).json<{
      paths: Record<string, unknown>
    }>()
    expect(Object.keys(openapi.paths)).toEqual(
      expect.arrayContaining(['/v1/events', '/api/workflows/{id}/draft']),
    )
  })
})

/** RFC 8058 section 3.2: a GET changes nothing, only a POST with the agreed body does. */
describe('unsubscribing', () => {
  const suppressed = async () => (await world.customer())?.suppressed
  test('one click, idempotent, without a session', async () => {
    const url = `/u/${await keepWayOut(world.db, LINK_SECRET, { shopId: SHOP, customerId: 'c1' })}`
    const form = (payload: string) =>
      app.inject({
        method: 'POST',
        url,
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        payload,
      })
    expect((await app.inject({ url })).statusCode).toBe(200)
    expect((await form('')).statusCode).toBe(400)
    expect(await suppressed()).toBeNull()
    expect((await form('List-Unsubscribe=One-Click')).statusCode).toBe(200)
    expect((await form('List-Unsubscribe=One-Click')).statusCode).toBe(200)
    expect(await suppressed()).toBe('unsubscribed')
  })
  test('a token that was not made here', async () => {
    const forged = unsubscribeToken('another secret that is long enough to be one', {
      shopId: SHOP,
      customerId: 'c1',
    })
    expect((await app.inject({ url: `/u/${forged}` })).statusCode).toBe(404)
    expect((await app.inject({ url: '/u/nonsense' })).statusCode).toBe(404)
  })
})

test('what is sent is compressed for whoever takes it so', async () => {
  const url = '/api/openapi.json'
  const asked = (encoding: string) => app.inject({ url, headers: { 'accept-encoding': encoding } })
  const plain = await asked('identity')
  const small = await asked('gzip, br')
  expect(plain.headers['content-encoding']).toBeUndefined()
  expect(small.headers['content-encoding']).toBe('br')
  expect(brotliDecompressSync(small.rawPayload).toString()).toBe(plain.payload)
  expect(small.rawPayload.length).toBeLessThan(plain.rawPayload.length / 4)
})
