import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { createWorkflow } from '../backend/workflows/index.ts'
import { hashPassword, keepUser } from '../backend/accounts/index.ts'
import type { WorkflowResponse } from '../contract/workflows.ts'
import type { Definition } from '../core/workflow/definition.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, wait } from '../testing/builders.ts'
import { PASSWORD } from '../testing/people.ts'
import { SHOP } from '../testing/world.ts'

const ORIGIN = 'http://localhost:8080'
let api: Api
let id: string
/** The cookies of a writer and of a second marketer. */
let cookies: Record<'writer' | 'second', string>
beforeAll(async () => {
  api = await makeApi()
  const { db } = api.world
  const passwordHash = await hashPassword(PASSWORD)
  await keepUser(db, SHOP, { id: 'w', email: 'wanda@combwright.example', name: 'Wanda', role: 'writer', passwordHash }) // prettier-ignore
  await keepUser(db, SHOP, { id: 't', email: 'tiago@combwright.example', name: 'Tiago', role: 'marketer', passwordHash }) // prettier-ignore
  const signIn = async (email: string) => {
    const answer = await api.app.inject({ method: 'POST', url: '/api/session', headers: { origin: ORIGIN }, payload: { email, password: PASSWORD } }) // prettier-ignore
    return String(answer.headers['set-cookie']).split(';')[0] ?? ''
  }
  cookies = { writer: await signIn('wanda@combwright.example'), second: await signIn('tiago@combwright.example') } // prettier-ignore
  id = await createWorkflow(db, SHOP, withSubject('Hello'))
})
afterAll(() => api.close())

const withSubject = (subject: string, over: object = {}): Definition =>
  aDefinition({ name: 'Care', steps: [wait('w', 'P3D'), anEmail('m', { subject, body: 'Dear you', ...over })] }) // prettier-ignore
const as = (who: 'writer' | 'second', method: 'GET' | 'POST' | 'PUT', url: string, payload?: object) =>
  api.app.inject({ method, url, headers: { origin: ORIGIN, cookie: cookies[who] }, ...(payload && { payload }) }) // prettier-ignore
const workflow = async () => (await api.call('GET', `/api/workflows/${id}`)).json<WorkflowResponse>() // prettier-ignore
const save = async (definition: Definition) =>
  as('writer', 'PUT', `/api/workflows/${id}/draft`, { revision: (await workflow()).draftRevision, definition }) // prettier-ignore

describe('a writer', () => {
  test('changes what stands in messages, and nothing of who gets them and when', async () => {
    expect((await save(withSubject('Good day'))).statusCode).toBe(200)
    const refused = await save(withSubject('Good day', { purpose: 'marketing' }))
    expect([refused.statusCode, refused.json<{ detail: string }>().detail]).toEqual([403, expect.stringContaining('is for a marketer')]) // prettier-ignore
    expect((await workflow()).draft).toEqual(withSubject('Good day'))
  })

  test('keeps designs, and puts nothing live, pauses nothing, changes no settings and takes no file of people', async () => {
    const design = { name: 'Care', subject: 'Care', previewText: '', blocks: [{ key: 'd', kind: 'divider' }] } // prettier-ignore
    expect((await as('writer', 'POST', '/api/designs', design)).statusCode).toBeLessThan(300)
    const { draftRevision: revision } = await workflow()
    const asked = await Promise.all([
      as('writer', 'POST', `/api/workflows/${id}/go-live`, { revision, includeToday: false }),
      as('writer', 'POST', '/api/workflows', { definition: withSubject('New') }),
      as('writer', 'GET', '/api/shop-rules'),
      as('writer', 'GET', '/api/exports/customers?format=csv'),
    ])
    expect(asked.map(({ statusCode }) => statusCode)).toEqual([403, 403, 403, 403])
  })
})

describe('where it takes two', () => {
  const goLive = async (who: 'maren' | 'second') => {
    const { draftRevision: revision } = await workflow()
    const url = `/api/workflows/${id}/go-live`
    const body = { revision, includeToday: false }
    return who === 'maren' ? api.call('POST', url, body) : as(who, 'POST', url, body)
  }
  const ask = async (revision: number) => api.call('POST', `/api/workflows/${id}/ask-live`, { revision }) // prettier-ignore

  test('nobody puts live what nobody else has asked for, or what was changed since', async () => {
    const facts = (await api.call('GET', '/api/shop')).json<object>()
    await api.call('PUT', '/api/shop', { ...facts, secondPerson: true })
    expect((await workflow()).secondPerson).toEqual({ asked: null })
    expect((await goLive('second')).json()).toMatchObject({ code: 'not_ready', problems: [{ code: 'second-person' }] }) // prettier-ignore
    const { draftRevision } = await workflow()
    expect((await ask(draftRevision - 1)).statusCode).toBe(409)
    expect((await ask(draftRevision)).statusCode).toBe(204)
    expect((await api.world.mails())[0]?.to).toBe('tiago@combwright.example')
    expect((await workflow()).secondPerson).toEqual({ asked: { name: 'Maren', isOwn: true } })
    expect((await goLive('maren')).statusCode).toBe(422)
    await save(withSubject('Slipped in'))
    expect((await workflow()).secondPerson).toEqual({ asked: null })
    expect((await goLive('second')).statusCode).toBe(422)
    expect((await ask((await workflow()).draftRevision)).statusCode).toBe(204)
    expect((await goLive('second')).json()).toEqual({ version: 1 })
  })
})
