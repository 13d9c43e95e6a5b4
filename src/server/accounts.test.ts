import { sql } from 'drizzle-orm'
import { Secret, TOTP } from 'otpauth'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { z } from 'zod'
import { rowsOf } from '../backend/platform/db.ts'
import { hashPassword, keepUser } from '../backend/accounts/index.ts'
import type { User } from '../contract/accounts.ts'
import type { SessionResponse } from '../contract/session.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { PASSWORD } from '../testing/people.ts'
import { addShop, SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())
beforeEach(async () => {
  await api.world.db.execute(sql`delete from sign_in_tries`)
})

const ORIGIN = 'http://localhost:8080'
/** Somebody who is not signed in, or who has signed in elsewhere. */
const stranger = (method: 'GET' | 'POST', url: string, payload?: object, cookie = '') =>
  api.app.inject({ method, url, headers: { origin: ORIGIN, cookie, 'user-agent': 'Firefox/140.0 Linux' }, ...(payload && { payload }) }) // prettier-ignore
const signIn = async (email: string, password: string) => {
  const answer = await stranger('POST', '/api/session', { email, password })
  return { status: answer.statusCode, cookie: String(answer.headers['set-cookie'] ?? '').split(';')[0] ?? '' } // prettier-ignore
}
const users = async () => (await api.call('GET', '/api/users')).json<User[]>()
/** The token of the link in the last mail to somebody. */
const mailedLink = async (to: string): Promise<string> => {
  const mail = (await api.world.mails()).filter((one) => one.to === to).at(-1)
  const [row] = await rowsOf(api.world.db, z.object({ plain: z.string() }), sql`select plain from mails where id = ${mail?.id ?? 0}`)
  return /\/password\/(\S+)/.exec(row?.plain ?? '')?.[1] ?? 'there is no link'
} // prettier-ignore
const NEXT = 'four lazy drones hum'

describe('who works in a shop', () => {
  test('is invited by mail, chooses a password once, and may what their role says', async () => {
    const body = { email: 'Ines@combwright.example', name: 'Inês', role: 'staff' }
    expect((await api.call('POST', '/api/users', body)).statusCode).toBe(204)
    expect((await api.call('POST', '/api/users', body)).statusCode).toBe(409)
    const token = await mailedLink('ines@combwright.example')
    expect((await stranger('GET', `/api/password-links/${token}`)).json()).toEqual({ kind: 'invitation', email: 'ines@combwright.example', name: 'Inês' }) // prettier-ignore
    const short = await stranger('POST', `/api/password-links/${token}`, { next: 'too short' })
    expect(short.statusCode).toBe(400)
    const tried = await stranger('POST', `/api/password-links/${token}`, { next: 'ines12345678' })
    expect(tried.json()).toMatchObject({ problems: [{ path: 'next', message: 'is what somebody would try first' }] }) // prettier-ignore
    const chosen = await stranger('POST', `/api/password-links/${token}`, { next: NEXT })
    expect(chosen.statusCode).toBe(204)
    expect((await stranger('POST', `/api/password-links/${token}`, { next: NEXT })).statusCode).toBe(404) // prettier-ignore
    const { cookie } = await signIn('ines@combwright.example', NEXT)
    expect((await stranger('GET', '/api/users', undefined, cookie)).statusCode).toBe(403)
    const [ines] = (await users()).filter(({ name }) => name === 'Inês')
    await api.call('PUT', `/api/users/${ines?.id}/role`, { role: 'marketer' })
    expect((await stranger('GET', '/api/users', undefined, cookie)).statusCode).toBe(200)
    expect((await stranger('POST', '/api/users', { ...body, email: 'x@y.example' }, cookie)).statusCode).toBe(403) // prettier-ignore
    expect((await api.call('DELETE', `/api/users/${ines?.id}`)).statusCode).toBe(204)
    expect((await stranger('GET', '/api/session', undefined, cookie)).statusCode).toBe(401)
  })

  test('has an owner at all times', async () => {
    const [maren] = (await users()).filter(({ role }) => role === 'owner')
    expect((await api.call('PUT', `/api/users/${maren?.id}/role`, { role: 'staff' })).statusCode).toBe(409) // prettier-ignore
    expect((await api.call('DELETE', `/api/users/${maren?.id}`)).statusCode).toBe(409)
  })

  test('only owners make keys, erase people, and say who may what', async () => {
    const asked = await Promise.all([
      api.call('POST', '/api/keys', { name: 'k' }, { who: 'aoife' }),
      api.call('POST', '/api/people/x/erase', { id: 'x' }, { who: 'aoife' }),
      api.call('DELETE', '/api/users/m', undefined, { who: 'aoife' }),
    ])
    expect(asked.map(({ statusCode }) => statusCode)).toEqual([403, 403, 403])
  })
})

describe('one’s own account', () => {
  test('a password is changed by who knows the present one, and ends every other session', async () => {
    const elsewhere = await signIn('maren@combwright.example', PASSWORD)
    const change = (current: string, next: string) =>
      api.call('PUT', '/api/account/password', { current, next })
    expect((await change('wrong wrong wrong', NEXT)).json()).toMatchObject({ problems: [{ path: 'current' }] }) // prettier-ignore
    expect((await change(PASSWORD, NEXT)).statusCode).toBe(204)
    expect((await stranger('GET', '/api/session', undefined, elsewhere.cookie)).statusCode).toBe(401) // prettier-ignore
    expect((await api.call('GET', '/api/session')).statusCode).toBe(200)
    expect((await signIn('maren@combwright.example', PASSWORD)).status).toBe(401)
    expect((await change(NEXT, PASSWORD)).statusCode).toBe(204)
    const told = (await api.world.mails()).filter(({ to }) => to === 'maren@combwright.example').at(-1) // prettier-ignore
    expect(told?.subject).toBe('Your password was changed')
  })

  test('sessions are listed, ended one by one, and all but this', async () => {
    type Listed = { id: string; agent: string; isThis: boolean }[]
    const listed = async () => (await api.call('GET', '/api/account/sessions')).json<Listed>()
    const one = await signIn('maren@combwright.example', PASSWORD)
    const two = await signIn('maren@combwright.example', PASSWORD)
    const before = await listed()
    expect(before.filter(({ isThis }) => isThis)).toHaveLength(1)
    expect(before.filter(({ agent }) => agent.startsWith('Firefox'))).toHaveLength(2)
    const [newest] = before
    expect((await api.call('DELETE', `/api/account/sessions/${newest?.id}`)).statusCode).toBe(204)
    expect((await api.call('DELETE', `/api/account/sessions/${newest?.id}`)).statusCode).toBe(404)
    expect((await stranger('GET', '/api/session', undefined, two.cookie)).statusCode).toBe(401)
    expect((await stranger('GET', '/api/session', undefined, one.cookie)).statusCode).toBe(200)
    await api.call('DELETE', '/api/account/sessions')
    expect((await stranger('GET', '/api/session', undefined, one.cookie)).statusCode).toBe(401)
    expect(await listed()).toHaveLength(1)
  })
})

describe('several shops', () => {
  const there = { id: 'other', email: 'olive@other.example', name: 'Olive', role: 'owner' } as const
  const shown = async (cookie: string) => (await stranger('GET', '/api/session', undefined, cookie)).json<SessionResponse>() // prettier-ignore
  const goTo = (cookie: string, shopId: string) =>
    api.app.inject({ method: 'PUT', url: '/api/session/shop', headers: { origin: ORIGIN, cookie }, payload: { shopId } }) // prettier-ignore
  beforeAll(async () => {
    await addShop(api.world.db, 'other-shop')
    await keepUser(api.world.db, 'other-shop', { ...there, passwordHash: await hashPassword(PASSWORD) }) // prettier-ignore
  })

  test('who has an account is let into another shop, goes there and back, and is nobody elsewhere', async () => {
    const { cookie } = await signIn(there.email, PASSWORD)
    expect((await goTo(cookie, SHOP)).statusCode).toBe(404)
    expect((await api.call('POST', '/api/users', { email: 'Olive@other.example', name: 'Olive P.', role: 'staff' })).statusCode).toBe(204) // prettier-ignore
    expect(await mailedLink(there.email)).toBe('there is no link')
    expect((await goTo(cookie, SHOP)).statusCode).toBe(204)
    const here = await shown(cookie)
    expect([here.shop.id, here.user.name, here.user.role]).toEqual([SHOP, 'Olive P.', 'staff'])
    expect(here.shops.map(({ id }) => id).toSorted()).toEqual([SHOP, 'other-shop'].toSorted())
    // Whoever signs in anew is where they were last.
    expect((await shown((await signIn(there.email, PASSWORD)).cookie)).shop.id).toBe(SHOP)
    expect((await goTo(cookie, 'other-shop')).statusCode).toBe(204)
    expect((await shown(cookie)).user.role).toBe('owner')
  })

  test('a page of one shop writes nothing into another', async () => {
    const { cookie } = await signIn(there.email, PASSWORD)
    const headers = { origin: ORIGIN, cookie, 'x-yomble-shop': SHOP }
    const answer = await api.app.inject({ method: 'DELETE', url: '/api/staff-groups/care', headers }) // prettier-ignore
    expect([answer.statusCode, answer.json<{ code: string }>().code]).toEqual([403, 'other_shop'])
  })

  test('whoever is let out of one goes on in the other', async () => {
    const { cookie } = await signIn(there.email, PASSWORD)
    await goTo(cookie, SHOP)
    expect((await api.call('DELETE', `/api/users/${there.id}`)).statusCode).toBe(204)
    expect((await stranger('GET', '/api/session', undefined, cookie)).statusCode).toBe(401)
    expect((await shown((await signIn(there.email, PASSWORD)).cookie)).shop.id).toBe('other-shop')
  })
})

describe('a forgotten password', () => {
  const ask = (email: string) => stranger('POST', '/api/password-links', { email })
  /** The answer goes first; the mail is on its way meanwhile. */
  const arrived = (to: string, count: number) =>
    expect.poll(async () => (await api.world.mails()).filter((one) => one.to === to).length).toBe(count) // prettier-ignore

  test('nobody learns whether an address has an account; who has one gets a link that works once', async () => {
    const to = 'aoife@combwright.example'
    const [known, unknown] = [await ask(to), await ask('nobody@combwright.example')]
    expect([known.statusCode, known.body]).toEqual([unknown.statusCode, unknown.body])
    await arrived(to, 1)
    // Asked again at once, there is no second mail.
    await ask(to)
    const token = await mailedLink(to)
    expect((await stranger('POST', `/api/password-links/${token}`, { next: NEXT })).statusCode).toBe(204) // prettier-ignore
    await arrived(to, 2)
    expect((await signIn(to, NEXT)).status).toBe(204)
    // Whoever was signed in before is so no more.
    expect((await api.call('GET', '/api/session', undefined, { who: 'aoife' })).statusCode).toBe(401) // prettier-ignore
    expect((await stranger('GET', `/api/password-links/${token}`)).statusCode).toBe(404)
  })

  test('a link is too old after an hour, and is kept as a digest', async () => {
    const before = (await api.world.mails()).filter(({ to }) => to === 'maren@combwright.example')
    await ask('maren@combwright.example')
    await arrived('maren@combwright.example', before.length + 1)
    const token = await mailedLink('maren@combwright.example')
    const { rows } = await api.world.db.execute(sql`select * from account_links`)
    expect(JSON.stringify(rows)).not.toContain(token)
    await api.world.db.execute(sql`update account_links set expires_at = expires_at - 3600001`)
    expect((await stranger('GET', `/api/password-links/${token}`)).statusCode).toBe(404)
    expect((await stranger('POST', `/api/password-links/${token}`, { next: NEXT })).statusCode).toBe(404) // prettier-ignore
  })
})

describe('a second factor', () => {
  const codeOf = (secret: string, stepsAhead = 0) =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + stepsAhead * 30_000 }) // prettier-ignore
  const enter = (code?: string) =>
    stranger('POST', '/api/session', { email: 'maren@combwright.example', password: PASSWORD, ...(code !== undefined && { code }) }) // prettier-ignore

  test('codes as RFC 6238 has them (appendix B, SHA-1, the last six digits)', () => {
    const secret = Secret.fromUTF8('12345678901234567890')
    const at = (seconds: number) => new TOTP({ secret }).generate({ timestamp: seconds * 1000 })
    expect([at(59), at(1_111_111_109), at(20_000_000_000)]).toEqual(['287082', '081804', '353130'])
  })

  test('is asked for once it is on; each code is taken once, those for a lost device too', async () => {
    const { secret, uri } = (await api.call('GET', '/api/account/second-factor')).json<{ secret: string; uri: string }>() // prettier-ignore
    expect(uri).toMatch(/^otpauth:\/\/totp\/Yomble:/)
    const turnOn = (code: string) => api.call('PUT', '/api/account/second-factor', { secret, code })
    expect((await turnOn('000000')).statusCode).toBe(400)
    const [present, next] = [codeOf(secret), codeOf(secret, 1)]
    const { codes } = (await turnOn(present)).json<{ codes: string[] }>()
    expect(new Set(codes).size).toBe(10)
    expect((await api.call('GET', '/api/session')).json()).toMatchObject({ user: { hasSecondFactor: true } }) // prettier-ignore
    const missing = await enter()
    expect([missing.statusCode, missing.json()]).toMatchObject([401, { problems: [{ path: 'code', message: 'is missing' }] }]) // prettier-ignore
    // Another device does not take the place of the first without a word.
    expect((await turnOn(next)).statusCode).toBe(409)
    // The code that turned it on was taken already.
    expect((await enter(present)).statusCode).toBe(401)
    expect((await enter(next)).statusCode).toBe(204)
    expect((await enter(next)).statusCode).toBe(401)
    expect((await enter(codeOf(secret, 5))).statusCode).toBe(401)
    const [first = ''] = codes
    expect((await enter(first.toUpperCase())).statusCode).toBe(204)
    expect((await enter(first)).statusCode).toBe(401)
    const { rows } = await api.world.db.execute(sql`select second_factor::text as kept from accounts where second_factor is not null`) // prettier-ignore
    for (const code of [...codes, secret]) expect(JSON.stringify(rows)).not.toContain(code)
  })

  test('is turned off by who knows the password', async () => {
    const turnOff = (password: string) =>
      api.call('POST', '/api/account/second-factor/off', { password })
    expect((await turnOff('wrong wrong wrong')).statusCode).toBe(400)
    expect((await turnOff(PASSWORD)).statusCode).toBe(204)
    const told = (await api.world.mails()).filter(({ to }) => to === 'maren@combwright.example').map(({ subject }) => subject) // prettier-ignore
    expect(told.slice(-2)).toEqual(['Signing in takes a second factor now', 'Signing in takes no second factor any more']) // prettier-ignore
    expect((await enter()).statusCode).toBe(204)
  })
})
