import { afterAll, beforeAll, expect, test } from 'vitest'
import { openDatabase, type Database } from '../backend/platform/db.ts'
import { makeLog } from '../backend/platform/log.ts'
import { beginningToken } from '../backend/shop/index.ts'
import type { BeginningBody, FirstSteps } from '../contract/beginning.ts'
import type { SessionResponse } from '../contract/session.ts'
import { freeDatabase, makeDatabase } from '../testing/database.ts'
import { testConfig } from '../testing/people.ts'
import { LINK_SECRET } from '../testing/world.ts'
import { buildApp } from './app.ts'
import type { App } from './context.ts'

const ORIGIN = 'http://localhost:8080'
let db: Database
let app: App
let url: string
beforeAll(async () => {
  url = await makeDatabase()
  db = openDatabase(url)
  const config = testConfig({ DATABASE_URL: url, PORT: 8080 })
  app = await buildApp({ db, config, publicUrl: ORIGIN, log: makeLog('silent') })
})
afterAll(async () => {
  await app.close()
  await db.$client.end()
  freeDatabase(url)
})

const ask = (path: string, cookie = '') =>
  app.inject({ method: 'GET', url: path, headers: { origin: ORIGIN, cookie } })
const body: BeginningBody = {
  token: beginningToken(LINK_SECRET),
  owner: { name: 'Inês', email: 'Ines@apiary.example', password: 'four lazy drones hum' },
  shop: { name: 'The Apiary', id: 'the-apiary', zone: 'Europe/Lisbon', currency: 'EUR', locale: 'pt-PT', sender: 'hello@apiary.example', postalAddress: 'Rua das Colmeias 12' },
} // prettier-ignore
const begin = (over: Partial<BeginningBody> = {}) =>
  app.inject({ method: 'POST', url: '/api/beginning', headers: { origin: ORIGIN }, payload: { ...body, ...over } }) // prettier-ignore

test('nobody begins without the link that the server prints, or with what cannot be', async () => {
  expect((await ask('/api/beginning')).json()).toEqual({ isEmpty: true })
  expect((await begin({ token: beginningToken('another secret') })).statusCode).toBe(404)
  const wrong = await begin({ shop: { ...body.shop, zone: 'Moon/Tycho' } })
  expect([wrong.statusCode, wrong.json()]).toMatchObject([400, { problems: [{ path: 'shop.zone' }] }]) // prettier-ignore
  const guessed = await begin({ owner: { ...body.owner, password: 'ines12345678' } })
  expect(guessed.statusCode).toBe(400)
  // What was refused has left nothing behind.
  expect((await ask('/api/beginning')).json()).toEqual({ isEmpty: true })
})

test('of several who begin at once one is the owner, and signed in; the link is of no use any more', async () => {
  const answers = await Promise.all([begin(), begin(), begin()])
  expect(answers.map(({ statusCode }) => statusCode).toSorted((one, other) => one - other)).toEqual(
    [204, 409, 409],
  )
  const made = answers.find(({ statusCode }) => statusCode === 204)
  const cookie = String(made?.headers['set-cookie']).split(';')[0] ?? ''
  const session = (await ask('/api/session', cookie)).json<SessionResponse>()
  expect([session.user.role, session.user.email, session.shop.name]).toEqual(['owner', 'ines@apiary.example', 'The Apiary']) // prettier-ignore
  expect((await ask('/api/first-steps', cookie)).json<FirstSteps>()).toEqual({ hasPostalAddress: true, hasLogo: false, hasKeyOrConnection: false, hasEvents: false, hasWorkflow: false, isLive: false, hasSent: false }) // prettier-ignore
  expect((await ask('/api/beginning')).json()).toEqual({ isEmpty: false })
  expect((await begin()).statusCode).toBe(409)
})
