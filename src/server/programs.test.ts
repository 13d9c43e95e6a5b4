import type { Client } from 'openapi-fetch'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { createApiKey } from '../backend/accounts/index.ts'
import { keyScope, type KeyScope } from '../contract/scopes.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, aDefinition, anEmail, eventOf, on, START } from '../testing/builders.ts'
import { clientFor } from '../testing/client/client.ts'
import type { paths } from '../testing/client/paths.d.ts'
import { SHOP } from '../testing/world.ts'
import { OPERATIONS } from './documented/operations.ts'

let api: Api
let client: Client<paths>
beforeAll(async () => {
  api = await makeApi()
  client = await clientFor(api, [...keyScope.options])
})
afterAll(() => api.close())

describe('a client made from the document', () => {
  test('sends an order, waits for all it brings, reads what came of it', async () => {
    await api.world.publish(
      aDefinition({ trigger: on('order.placed'), steps: [anEmail('thanks')] }),
    )
    const event = {
      specversion: '1.0' as const,
      id: 'program-1',
      source: '/till',
      type: 'order.placed' as const,
      time: '2026-04-14T09:20:00Z',
      data: {
        order: {
          id: 'p1',
          number: '1',
          customerId: 'p-c',
          currency: 'EUR',
          totalMinor: 900,
          lines: [{ productId: 'p', title: 'Bee brush', quantity: 1, unitPriceMinor: 900 }],
        },
        customer: { id: 'p-c', email: 'p@example.org' },
      },
    }
    const sent = await client.POST('/v1/events', {
      body: event,
      headers: { 'content-type': 'application/cloudevents+json' },
    })
    expect(sent.error).toBeUndefined()
    const query = { source: event.source, id: event.id }
    expect((await client.GET('/v1/work', { params: { query } })).data).toMatchObject({
      done: false,
    })
    await api.world.settle()
    expect((await client.GET('/v1/work', { params: { query } })).data).toMatchObject({ done: true })
    const person = await client.GET('/api/people/{id}', { params: { path: { id: 'p-c' } } })
    expect(person.data).toMatchObject({ email: 'p@example.org', orders: 1 })
    const ledger = await client.GET('/api/ledger', { params: { query: { customer: 'p-c' } } })
    expect(ledger.data?.rows.map(({ kind }) => kind)).toContain('sent')
  })

  test('makes a workflow, and is told where a document is wrong', async () => {
    const definition = {
      format: 'yomble.workflow' as const,
      formatVersion: 1 as const,
      name: 'By a program',
      description: '',
      priority: 50,
      trigger: { kind: 'event' as const, event: 'order.placed' as const },
      entry: { rule: { kind: 'once' as const }, overlap: 'one' as const },
      exclusions: [],
      steps: [{ key: 'end', kind: 'end' as const }],
    }
    const made = await client.POST('/api/workflows', { body: { definition } })
    expect(made.data?.id).toBeDefined()
    const wrong = await client.POST('/api/workflows', {
      body: { definition: { ...definition, priority: 1000 } },
    })
    expect(wrong.response.status).toBe(400)
    expect(wrong.response.headers.get('content-type')).toContain('application/problem+json')
    expect(wrong.error).toMatchObject({
      type: '/api/problems#bad_input',
      status: 400,
      code: 'bad_input',
      problems: [{ path: 'definition.priority' }],
    })
    const list = await client.GET('/api/problems')
    expect(list.data).toContainEqual({
      type: '/api/problems#bad_input',
      code: 'bad_input',
      title: 'It cannot be taken as it is',
      status: 400,
    })
  })

  test('reads whether somebody may be written to, and why not', async () => {
    const asked = async (address: string) =>
      (await client.GET('/api/reachable', { params: { query: { address } } })).data
    expect(await asked('nobody@example.org')).toMatchObject({
      mayMarket: false,
      reasons: ['unknown'],
    })
    const customer = aCustomer({ id: 'r1', email: 'R1@example.org', emailConsent: true })
    await api.world.post(eventOf('customer.created', START, { customer }))
    expect(await asked('r1@example.org')).toMatchObject({ mayMarket: true, reasons: [] })
    await api.world.post(
      eventOf('consent.changed', START, {
        consent: { customerId: 'r1', channel: 'email', given: false, how: 'by letter' },
      }),
    )
    expect(await asked('r1@example.org')).toMatchObject({
      mayMarket: false,
      reasons: ['saidNo'],
      people: [{ customerId: 'r1', saidHow: 'by letter' }],
    })
  })

  test('does once what names an idempotency key', async () => {
    const body = {
      name: 'Once',
      condition: { kind: 'field', field: 'customer.country', op: 'is', value: 'PT' },
    } as const
    const make = (key: string, over: object = {}) =>
      client.POST('/api/segments', {
        body: { ...body, ...over },
        params: { header: { 'Idempotency-Key': key } },
      })
    const first = await make('k-1')
    expect(first.response.status).toBe(201)
    const again = await make('k-1')
    expect(again.data).toEqual(first.data)
    expect(again.response.headers.get('idempotency-replayed')).toBe('true')
    expect((await make('k-1', { name: 'Other' })).response.status).toBe(400)
    // Refused, it is not done and not kept.
    expect((await make('k-2')).response.status).toBe(409)
    const named = await make('k-2', { name: 'Twice' })
    expect(named.response.status).toBe(201)
    expect((await client.GET('/api/segments')).data?.map(({ name }) => name)).toEqual([
      'Once',
      'Twice',
    ])
  })
})

describe('keys', () => {
  const ALLOWED = [
    ['events', 'POST', '/v1/events', 400],
    ['events', 'GET', '/api/workflows', 403],
    ['events', 'POST', '/api/people/search', 403],
    ['read', 'GET', '/api/workflows', 200],
    ['read', 'GET', '/api/people/x', 403],
    ['read', 'POST', '/api/workflows', 403],
    ['read', 'GET', '/api/ledger', 403],
    ['workflows', 'POST', '/api/workflows', 400],
    ['workflows', 'GET', '/api/workflows', 403],
    ['people', 'GET', '/api/people/none', 404],
    ['people', 'POST', '/api/people/count', 200],
    ['people', 'GET', '/api/exports/orders', 200],
    ['people', 'PUT', '/api/brand', 403],
    ['settings', 'PUT', '/api/shop-rules', 400],
    ['settings', 'GET', '/api/keys', 403],
    ['settings', 'POST', '/api/keys', 403],
    ['people', 'GET', '/api/session', 403],
  ] as const
  test.each(ALLOWED)('one for %s: %s %s answers %i', async (scope, method, url, status) => {
    const { key } = await createApiKey(api.world.db, SHOP, scope, [scope])
    const answer = await api.app.inject({
      method,
      url,
      headers: { authorization: `Bearer ${key}` },
      ...(method !== 'GET' && { payload: {} }),
    })
    expect(answer.statusCode).toBe(status)
  })

  test('a cookie does not help a key that does not work', async () => {
    const headers = { authorization: 'Bearer wrong', cookie: api.cookies.maren }
    expect((await api.app.inject({ url: '/api/workflows', headers })).statusCode).toBe(401)
  })

  test('what a key does is said to be done by it', async () => {
    const people = await clientFor(api, ['people' satisfies KeyScope])
    await api.world.post(
      eventOf('customer.created', START, {
        customer: aCustomer({ id: 'by-key', email: 'k@example.org' }),
      }),
    )
    await people.POST('/api/people/{id}/acts', {
      params: { path: { id: 'by-key' } },
      body: { did: 'tag', name: 'wholesale', change: 'add' },
    })
    const { rows } = (await api.call('GET', '/api/ledger?customer=by-key')).json<{
      rows: { words: string }[]
    }>()
    expect(rows.map(({ words }) => words).join()).toContain('API key “people”')
  })
})

test('the document tells of every route, and of nothing else', async () => {
  const document = (await api.app.inject({ url: '/api/openapi.json' })).json<{ paths: Record<string, Record<string, { summary: string; security: object[]; requestBody?: object; responses: Record<string, { content?: object }> }>> }>()
  const told = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ key: `${method.toUpperCase()} ${path}`, operation })),
  )
  expect(told.map(({ key }) => key).toSorted()).toEqual([...OPERATIONS.keys()].toSorted())
  for (const { key, operation } of told) {
    expect(operation.summary, key).not.toBe('')
    expect(operation.responses['default'], key).toBeDefined()
    // Whatever is asked for has an answer that is described.
    const answers = Object.entries(operation.responses).filter(([status]) => status !== 'default')
    if (key.startsWith('GET ')) expect(answers.some(([, { content }]) => content !== undefined), key).toBe(true)
    if (key.startsWith('PUT ')) expect(operation.requestBody, key).toBeDefined()
  }
  expect(told.find(({ key }) => key === 'POST /v1/events')?.operation.requestBody).toBeDefined()
})
// prettier-ignore
