import { afterAll, beforeAll, expect, test } from 'vitest'
import type { ExperimentsResponse } from '../contract/experiments.ts'
import type { ResultsResponse } from '../contract/results.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, orderEvent, START } from '../testing/builders.ts'

let api: Api
let id: string
beforeAll(async () => {
  api = await makeApi()
  id = await api.world.publish(
    aDefinition({
      trigger: { kind: 'event', event: 'order.paid' },
      steps: [
        {
          key: 'test',
          kind: 'experiment',
          name: 'How',
          lottery: 'l',
          arms: [
            { key: 'a', name: 'A', weight: 50, steps: [anEmail('a-mail', { name: '=HYPERLINK("x")' })] }, // prettier-ignore
            { key: 'b', name: 'B', weight: 50, steps: [anEmail('b-mail', { name: 'B' })] },
          ],
        },
      ],
    }),
  )
  const who = { id: 'c', email: 'c@example.org', firstName: null, lastName: null, zone: null }
  await api.world.post(orderEvent('order.paid', START, { id: 'o', number: 'o', customerId: 'c' }, who)) // prettier-ignore
})
afterAll(() => api.close())

const get = (path: string, who: 'maren' | 'aoife' = 'maren') =>
  api.call('GET', `/api/workflows/${id}/${path}`, undefined, { who })

test('results, their people and one message are there for staff, too', async () => {
  const results = (await get('results?before=true', 'aoife')).json<ResultsResponse>()
  expect(results.open.entered).toBe(1)
  expect(results.before).toMatchObject({ entered: 0 })
  expect(results.versions).toEqual([1])
  expect(results.through.all.numbers.total.entered).toBe(1)
  // Nothing is known of them but the address.
  const people = (await get('results/people?measure=entered&isWithOpen=true')).json()
  expect(people).toMatchObject({ people: [{ name: null, email: 'c@example.org' }], hasMore: false })
  const [message] = results.open.messages
  const detail = await get(`results/message?step=${message?.step}&isWithOpen=true`)
  expect(detail.json()).toMatchObject({ links: [], hours: [{ delivered: 1 }] })
})

test.each([
  ['results?days=abc', 'days'],
  ['results?windowDays=0', 'windowDays'],
  ['results?from=5&to=1', 'from'],
  ['results?from=5&to=5', 'from'],
  ['results/people?measure=everything', 'measure'],
  ['results/message', 'step'],
])('%s is no question', async (path, field) => {
  const answer = await get(path)
  expect(answer.statusCode).toBe(400)
  expect(answer.json()).toMatchObject({ problems: [{ path: field }] })
})

test('a path, a version or a message that there is not has nobody', async () => {
  for (const path of ['results?wayStep=gone', 'results?version=99']) {
    expect((await get(path)).json<ResultsResponse>().open.entered, path).toBe(0)
  }
  expect((await get('results/people?measure=sent&step=gone')).json()).toEqual({ people: [], hasMore: false }) // prettier-ignore
  expect((await api.call('GET', '/api/workflows/gone/results')).statusCode).toBe(404)
  expect((await api.call('GET', '/api/workflows/gone/experiments')).statusCode).toBe(404)
})

test('a table for elsewhere runs nothing where it is opened', async () => {
  const csv = await get('results.csv')
  expect(csv.headers['content-type']).toContain('text/csv')
  expect(csv.body).toMatch(/^from,to,windowDays,window,entered,message,step,reached,sent/)
  expect(csv.body).not.toMatch(/(^|,)"?=/m)
})

test('a test is decided by marketers, of the draft as they saw it', async () => {
  const decide = (body: object, who: 'maren' | 'aoife' = 'maren') =>
    api.call('POST', `/api/workflows/${id}/experiments/test/decision`, body, { who })
  const body = { arm: 'b', note: ' Shorter. ', revision: 0 }
  expect((await decide(body, 'aoife')).statusCode).toBe(403)
  expect((await decide({ ...body, arm: 'gone' })).statusCode).toBe(404)
  expect((await decide({ ...body, revision: 4 })).statusCode).toBe(409)
  expect((await decide({ ...body, note: 'x'.repeat(2001) })).json()).toMatchObject({ problems: [{ path: 'note' }] }) // prettier-ignore
  expect((await decide(body)).json()).toEqual({ draftRevision: 1 })
  const { decisions } = (await get('experiments')).json<ExperimentsResponse>()
  expect(decisions).toMatchObject([{ by: 'Maren', arm: 'b', note: 'Shorter.', report: { arms: [{ key: 'a' }, { key: 'b' }] } }]) // prettier-ignore
})

test('before it begins: who would have come to it; nothing where the past cannot be gone through', async () => {
  const byHand = aDefinition({ trigger: { kind: 'hand', subject: 'order' } })
  expect((await api.call('POST', '/api/experiments/traffic', { definition: byHand, step: 'test' })).json()).toBeNull() // prettier-ignore
  expect((await api.call('POST', '/api/experiments/traffic', { definition: {}, step: 'test' })).statusCode).toBe(400) // prettier-ignore
})
