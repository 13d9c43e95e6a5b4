import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import type { Passkey } from '../contract/passkeys.ts'
import type { SessionResponse } from '../contract/session.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { authenticator } from '../testing/authenticator.ts'
import { PASSWORD } from '../testing/people.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())
beforeEach(async () => {
  await api.world.db.execute(sql`delete from sign_in_tries`)
  await api.world.db.execute(sql`delete from passkeys`)
})

const ORIGIN = 'http://localhost:8080'
const HERE = { origin: ORIGIN, rpID: 'localhost' }
type Device = ReturnType<typeof authenticator>

const stranger = (url: string, payload: object) =>
  api.app.inject({ method: 'POST', url, headers: { origin: ORIGIN }, payload })
const asked = async (): Promise<string> =>
  (await stranger('/api/session/passkey/options', {})).json<{ challenge: string }>().challenge
const begin = async (who: 'maren' | 'aoife' = 'maren', password = PASSWORD) =>
  api.call('POST', '/api/account/passkeys/options', { password }, { who })
const challengeFor = async (who: 'maren' | 'aoife'): Promise<string> =>
  (await begin(who)).json<{ challenge: string }>().challenge
const keep = (made: object, who: 'maren' | 'aoife' = 'maren') =>
  api.call('POST', '/api/account/passkeys', { name: 'Phone', made }, { who })
const listed = async () => (await api.call('GET', '/api/account/passkeys')).json<Passkey[]>()
const withPasskey = async (): Promise<Device> => {
  const device = authenticator()
  const made = device.make(await challengeFor('maren'), HERE)
  expect((await keep(made)).statusCode).toBe(204)
  return device
}
const signIn = async (device: Device, sitting = HERE) =>
  stranger('/api/session/passkey', device.sign(await asked(), sitting))

test('a passkey is made by who knows the password, signs in without it, and is removed', async () => {
  expect((await begin('maren', 'wrong wrong wrong')).json()).toMatchObject({ problems: [{ path: 'password' }] }) // prettier-ignore
  const device = await withPasskey()
  expect(await listed()).toMatchObject([{ id: device.id, name: 'Phone', lastUsedAt: null }])
  const entered = await signIn(device)
  expect(entered.statusCode).toBe(204)
  const cookie = String(entered.headers['set-cookie']).split(';')[0] ?? ''
  const { user } = (await api.app.inject({ url: '/api/session', headers: { cookie } })).json<SessionResponse>() // prettier-ignore
  expect(user).toMatchObject({ name: 'Maren', isStrong: true })
  expect((await listed())[0]?.lastUsedAt).not.toBeNull()
  const remove = () => api.call('DELETE', `/api/account/passkeys/${device.id}`)
  expect((await remove()).statusCode).toBe(204)
  expect((await remove()).statusCode).toBe(404)
  expect((await signIn(device)).statusCode).toBe(401)
  const subjects = (await api.world.mails()).map(({ subject }) => subject)
  expect(subjects.slice(-2)).toEqual(['A passkey was added to your account', 'A passkey was removed from your account']) // prettier-ignore
})

test('what was signed is taken once, for what was asked, on this site, by who has shown themselves', async () => {
  const device = await withPasskey()
  const signed = device.sign(await asked(), HERE)
  expect((await stranger('/api/session/passkey', signed)).statusCode).toBe(204)
  expect((await stranger('/api/session/passkey', signed)).statusCode).toBe(401)
  expect((await signIn(device, { origin: 'https://yornble.example', rpID: 'localhost' })).statusCode).toBe(401) // prettier-ignore
  expect((await signIn(device, { origin: ORIGIN, rpID: 'yornble.example' })).statusCode).toBe(401)
  const unverified = device.sign(await asked(), { ...HERE, verifies: false })
  expect((await stranger('/api/session/passkey', unverified)).statusCode).toBe(401)
  // What was asked of somebody who makes one lets nobody in.
  const other = device.sign(await challengeFor('maren'), HERE)
  expect((await stranger('/api/session/passkey', other)).statusCode).toBe(401)
  const late = device.sign(await asked(), HERE)
  await api.world.db.execute(sql`update passkey_challenges set expires_at = 0`)
  expect((await stranger('/api/session/passkey', late)).statusCode).toBe(401)
  expect((await signIn(device)).statusCode).toBe(204)
  device.rewind()
  expect((await signIn(device)).statusCode).toBe(401)
  const forged = authenticator().sign(await asked(), HERE)
  expect((await stranger('/api/session/passkey', { ...forged, id: device.id, rawId: device.id })).statusCode).toBe(401) // prettier-ignore
})

test('a passkey goes to the account that asked for it, and to no second one', async () => {
  const device = authenticator()
  const made = device.make(await challengeFor('maren'), HERE)
  expect((await keep(made, 'aoife')).statusCode).toBe(400)
  expect((await keep(device.make(await challengeFor('maren'), HERE))).statusCode).toBe(204)
  expect((await keep(device.make(await challengeFor('aoife'), HERE), 'aoife')).statusCode).toBe(400)
  const away = await api.call('DELETE', `/api/account/passkeys/${device.id}`, undefined, { who: 'aoife' }) // prettier-ignore
  expect(away.statusCode).toBe(404)
})

test('what is no passkey’s answer is refused with the place of it', async () => {
  const answer = await stranger('/api/session/passkey', { id: 'x', rawId: 'x', type: 'public-key', clientExtensionResults: {}, response: { clientDataJSON: '{}' } }) // prettier-ignore
  expect(answer.statusCode).toBe(400)
  const nonsense = authenticator().sign('x', HERE)
  expect((await stranger('/api/session/passkey', nonsense)).statusCode).toBe(401)
})

test('where owners need more than a password, what only they may do waits for it', async () => {
  const facts = (await api.call('GET', '/api/shop')).json<Record<string, unknown>>()
  const alone = await api.call('PUT', '/api/shop', { ...facts, strongOwners: true })
  expect(alone.json()).toMatchObject({ problems: [{ path: 'strongOwners' }] })
  const device = await withPasskey()
  const cookie = String((await signIn(device)).headers['set-cookie']).split(';')[0] ?? ''
  const strongly = (method: 'GET' | 'PUT', url: string, payload?: object) =>
    api.app.inject({ method, url, headers: { origin: ORIGIN, cookie }, ...(payload && { payload }) }) // prettier-ignore
  expect((await strongly('PUT', '/api/shop', { ...facts, strongOwners: true })).statusCode).toBe(204) // prettier-ignore
  const refused = await api.call('GET', '/api/shop')
  expect(refused.json()).toMatchObject({ code: 'not_allowed' })
  expect((await api.call('GET', '/api/workflows')).statusCode).toBe(200)
  expect((await strongly('GET', '/api/shop')).json()).toMatchObject({ strongOwners: true })
  await strongly('PUT', '/api/shop', { ...facts, strongOwners: false })
})
