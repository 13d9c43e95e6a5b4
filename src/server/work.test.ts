import { afterAll, beforeAll, expect, test } from 'vitest'
import { createApiKey } from '../backend/accounts/index.ts'
import { ingestEvents } from '../backend/shop/index.ts'
import { makeApi, type Api } from '../testing/api.ts'
import {
  aCustomer,
  aDefinition,
  anEmail,
  anOrder,
  eventOf,
  on,
  START,
} from '../testing/builders.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
let key: string
beforeAll(async () => {
  api = await makeApi()
  key = (await createApiKey(api.world.db, SHOP, 'tests')).key
})
afterAll(() => api.close())

const work = (query: string, authorization = `Bearer ${key}`) =>
  api.app.inject({ method: 'GET', url: `/v1/work?${query}`, headers: { authorization } })

test('a program is told whether all work up to an event is done', async () => {
  await api.world.publish(aDefinition({ trigger: on('order.placed'), steps: [anEmail('thanks')] }))
  const event = eventOf('order.placed', START, { order: anOrder({ id: 'w1', customerId: 'w-c' }), customer: aCustomer({ id: 'w-c' }) }) // prettier-ignore
  await ingestEvents(api.world.db, SHOP, [event])
  const query = new URLSearchParams({ source: event.source, id: event.id }).toString()
  expect((await work(query)).json()).toEqual({ done: false, events: 1, runs: 0, messages: 0 })
  await api.world.settle()
  expect((await work(query)).json()).toEqual({ done: true, events: 0, runs: 0, messages: 0 })
  expect((await work('source=x&id=never')).statusCode).toBe(404)
  expect((await work('source=x')).statusCode).toBe(400)
  expect((await work(query, 'Bearer none')).statusCode).toBe(401)
})

test('the ledger of one person exactly', async () => {
  const other = aCustomer({ id: 'w-c2', email: 'other@example.org' })
  await api.world.post(eventOf('order.placed', START, { order: anOrder({ id: 'w2', customerId: 'w-c2' }), customer: other })) // prettier-ignore
  const rows = (await api.call('GET', '/api/ledger?customer=w-c')).json<{ rows: { customer: { id: string } }[] }>().rows // prettier-ignore
  expect(rows.length).toBeGreaterThan(2)
  expect(new Set(rows.map(({ customer }) => customer.id))).toEqual(new Set(['w-c']))
})
