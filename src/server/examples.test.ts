import { afterAll, beforeAll, expect, test } from 'vitest'
import type { z } from 'zod'
import type { likenessesResponse } from '../contract/rehearsal.ts'
import { HOUR_MS } from '../core/shared/duration.ts'
import type { Definition } from '../core/workflow/definition.ts'
import { aSubject } from '../testing/aSubject.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on, orderEvent, START, wait } from '../testing/builders.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const subject = aSubject({ customer: { zone: 'Asia/Kathmandu' } })
const withExample = (at: string, zone = 'Asia/Kathmandu'): Definition =>
  aDefinition({
    trigger: on('order.placed'),
    steps: [wait('w', 'P3D'), anEmail('m', { name: 'Care guide' })],
    examples: [{ key: 'e', name: 'Plain', subject: { ...subject, customer: { ...subject.customer, zone } }, outcome: { runs: 1, messages: [{ step: 'm', at }], ways: [], exclusions: [] } }],
  }) // prettier-ignore

async function goLive(definition: Definition) {
  const made = await api.call('POST', '/api/workflows', { definition })
  const { id } = made.json<{ id: string }>()
  return api.call('POST', `/api/workflows/${id}/go-live`, { revision: 0 })
}

test('an example that no longer comes out as kept stops going live, and says in what', async () => {
  const answer = await goLive(withExample('2026-04-16T10:05:00Z'))
  expect(answer.statusCode).toBe(422)
  const { problems } = answer.json<{ problems: { code: string; message: string }[] }>()
  expect(problems).toMatchObject([{ code: 'examples-differ' }])
  expect(problems[0]?.message).toContain(
    '“Plain” gets “Care guide” on 17 April, 15:50 instead of 16 April, 15:50.',
  )
})

test('one that does goes live with it', async () => {
  expect((await goLive(withExample('2026-04-17T10:05:00Z'))).statusCode).toBe(200)
})

test('an example of nowhere is refused with its place', async () => {
  const answer = await api.call('POST', '/api/workflows', { definition: withExample('2026-04-17T10:05:00Z', 'Asia/Nowhere') }) // prettier-ignore
  expect(answer.statusCode).toBe(400)
  expect(answer.json()).toMatchObject({ problems: [{ path: 'definition.examples.0.subject.customer.zone' }] }) // prettier-ignore
})

test('somebody real is found by name or number, by marketers only, and nothing of them but a likeness leaves', async () => {
  await api.world.post(orderEvent('order.placed', START, { id: 'o1', number: '30842', customerId: 'c7' }, { id: 'c7', email: 'edith@example.org', firstName: 'Edith', lastName: 'Moran', zone: 'Europe/Dublin' })) // prettier-ignore
  for (const search of ['Moran', 'edith@', '30842']) {
    const found = await api.call(
      'GET',
      `/api/rehearsal/people?search=${encodeURIComponent(search)}`,
    )
    expect(found.json(), search).toEqual([{ id: 'c7', name: 'Edith Moran', email: 'edith@example.org' }]) // prettier-ignore
  }
  const body = {
    customerId: 'c7',
    trigger: { kind: 'event', event: 'order.placed' },
    workflowId: 'w',
  }
  const likenesses = await api.call('POST', '/api/rehearsal/likenesses', body)
  expect(likenesses.json()).toMatchObject({ occasions: [{ number: '30842', subject: { customer: { zone: 'Europe/Dublin' } } }] }) // prettier-ignore
  expect(likenesses.body).not.toMatch(/Edith|edith@/)
  expect((await api.call('GET', '/api/rehearsal/people?search=Moran', undefined, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
  expect((await api.call('POST', '/api/rehearsal/likenesses', body, { who: 'aoife' })).statusCode).toBe(403) // prettier-ignore
})

test('each occasion says what really came of it; who never had one, what happened to them instead', async () => {
  const { world } = api
  const bought = (id: string, at: number, totalMinor: number) =>
    orderEvent('order.placed', at, { id, number: id, customerId: 'c8', totalMinor }, { id: 'c8', email: 'nesta@example.org' }) // prettier-ignore
  await world.post(bought('early', START, 50_000))
  await world.moveTo(START + HOUR_MS)
  const trigger = { kind: 'event', event: 'order.placed', filter: { kind: 'field', field: 'order.total', op: 'gte', value: { amountMinor: 10_000, currency: 'EUR' } } } as const // prettier-ignore
  const workflowId = await world.publish(aDefinition({ trigger, steps: [anEmail('m')] }))
  await world.post(bought('small', START + HOUR_MS, 500), bought('large', START + HOUR_MS, 50_000))
  await world.pause(workflowId)
  await world.post(bought('meanwhile', START + HOUR_MS, 50_000))
  const ask = async (asked: object) =>
    (await api.call('POST', '/api/rehearsal/likenesses', { customerId: 'c8', workflowId, ...asked })).json<z.infer<typeof likenessesResponse>>() // prettier-ignore
  const { occasions } = await ask({ trigger })
  const came = new Map(occasions.map((one) => [one.number, one.came]))
  expect(came.get('early')).toEqual({
    runId: null,
    turnedAway: null,
    isBeforeLive: true,
    state: null,
  })
  expect(came.get('small')).toMatchObject({ runId: null, turnedAway: { kind: 'turnedAway', reason: { code: 'filter' } } }) // prettier-ignore
  expect(came.get('large')?.runId).toBeGreaterThan(0)
  expect(came.get('meanwhile')).toEqual({
    runId: null,
    turnedAway: null,
    isBeforeLive: false,
    state: 'paused',
  })
  const never = await ask({ trigger: { kind: 'event', event: 'review.submitted' } })
  expect(never.occasions).toEqual([])
  expect(never.happened).toContainEqual({ type: 'order.placed', count: 4, lastAt: START + HOUR_MS })
})
