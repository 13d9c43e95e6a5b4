import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Definition } from '../core/workflow/definition.ts'
import { subjectSchema } from '../core/workflow/rehearsalSubject.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on, wait } from '../testing/builders.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const subject = subjectSchema.parse({
  at: '2026-04-14T10:05:00Z',
  customer: { firstName: 'Marta', country: null, zone: 'Asia/Kathmandu', emailConsent: true, smsConsent: null, hasPhone: false, tags: [] },
  earlier: [],
  lines: [{ productId: 'p1', title: 'Hive', category: null, quantity: 1, unitPriceMinor: 18_900 }],
  stars: 5,
  dateInDays: 30,
  between: [],
}) // prettier-ignore
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
