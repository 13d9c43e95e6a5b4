import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { DAY_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { testConfig } from '../../testing/people.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import {
  createApiKey,
  findSession,
  hashPassword,
  listApiKeys,
  revokeApiKey,
  rotateSession,
  holderOfKey,
  keepUser,
  signIn,
  signOut,
} from './index.ts'
import type { Config } from '../platform/config.ts'
import { realNow } from '../platform/realTime.ts'
import { hashToken, passwordMatches } from './secrets.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
  const passwordHash = await hashPassword('first inspection day')
  await keepUser(world.db, SHOP, {
    id: 'm',
    email: 'maren@combwright.example',
    name: 'Maren',
    role: 'marketer',
    passwordHash,
  })
})
afterAll(() => world.close())
beforeEach(() => world.db.execute(sql`delete from sessions`))

const PERSON = { email: 'Maren@Combwright.example', password: 'first inspection day' }
const config = testConfig({ DATABASE_URL: 'postgres://nowhere' })
const enter = (terms: Partial<Config> = {}) =>
  signIn(world.db, { ...PERSON, address: '127.0.0.1', config: { ...config, ...terms } })

describe('passwords', () => {
  test('are salted: the same twice is stored differently, and both match', async () => {
    const [one, two] = await Promise.all([
      hashPassword('a long enough one'),
      hashPassword('a long enough one'),
    ])
    expect(one).not.toBe(two)
    expect(await passwordMatches('a long enough one', one)).toBe(true)
    expect(await passwordMatches('a long enough two', one)).toBe(false)
  })
  test('match however their accents are written (NFC)', async () => {
    const stored = await hashPassword('caf\u00e9 caf\u00e9 caf\u00e9')
    expect(await passwordMatches('cafe\u0301 cafe\u0301 cafe\u0301', stored)).toBe(true)
  })
  test('have 12 to 128 characters (OWASP ASVS 4.0.3, 2.1.1 and 2.1.2, from memory)', async () => {
    await expect(hashPassword('too short')).rejects.toThrow(RangeError)
    await expect(hashPassword('x'.repeat(129))).rejects.toThrow(RangeError)
    await expect(hashPassword('x'.repeat(128))).resolves.toMatch(/^scrypt\$/)
  })
  test('of an unknown account match nothing', async () => {
    expect(await passwordMatches('', null)).toBe(false)
    expect(await passwordMatches('anything at all', null)).toBe(false)
  })
})

describe('sessions', () => {
  test('the token is not what is stored', async () => {
    const { token } = await enter()
    const { rows } = await world.db.execute(sql`select token_hash from sessions`)
    expect(rows).toEqual([{ token_hash: hashToken(token) }])
    expect(await findSession(world.db, token)).toMatchObject({
      user: { shopId: SHOP, name: 'Maren' },
      stale: false,
    })
    expect(await findSession(world.db, hashToken(token))).toBeNull()
  })
  test('end when they are signed out or have run out', async () => {
    const first = await enter()
    await signOut(world.db, first.token)
    expect(await findSession(world.db, first.token)).toBeNull()
    const second = await enter()
    await world.db.execute(sql`update sessions set expires_at = expires_at - ${15 * DAY_MS}`)
    expect(await findSession(world.db, second.token)).toBeNull()
  })
  test('get a new token after a while; the old one works a minute longer', async () => {
    const { token } = await enter()
    expect(await rotateSession(world.db, token, config)).toBeNull()
    await world.db.execute(sql`update sessions set rotate_at = 0`)
    expect(await findSession(world.db, token)).toMatchObject({ stale: true })
    const rotated = await rotateSession(world.db, token, config)
    expect(rotated?.token).toBeDefined()
    expect(rotated?.token).not.toBe(token)
    expect(await findSession(world.db, rotated?.token ?? '')).toMatchObject({ stale: false })
    expect(await findSession(world.db, token)).not.toBeNull()
    // Two requests at once rotate it once.
    expect(await rotateSession(world.db, token, config)).toBeNull()
    await world.db.execute(
      sql`update sessions set expires_at = expires_at - 60001 where token_hash = ${hashToken(token)}`,
    )
    expect(await findSession(world.db, token)).toBeNull()
  })
  test('last as long as is set: without a sign of life, and in any case', async () => {
    const now = realNow()
    const idle = await enter({ SESSION_IDLE_HOURS: 0.5 })
    expect((idle.expiresAt - now) / MINUTE_MS).toBeCloseTo(30, 0)
    await world.db.execute(sql`update sessions set rotate_at = 0`)
    // Begun three quarters of an hour ago, it has a quarter left, however lively it is.
    await world.db.execute(sql`update sessions set started_at = started_at - ${45 * MINUTE_MS}`)
    const terms = { SESSION_IDLE_HOURS: 0.5, SESSION_LONGEST_HOURS: 1 }
    const renewed = await rotateSession(world.db, idle.token, terms)
    expect(((renewed?.expiresAt ?? 0) - now) / MINUTE_MS).toBeCloseTo(15, 0)
  })
})

describe('API keys', () => {
  test('work until they are revoked, and are listed without themselves', async () => {
    const { key, id } = await createApiKey(world.db, SHOP, 'web shop')
    expect(await holderOfKey(world.db, key)).toMatchObject({ shopId: SHOP, scopes: ['events'] })
    const [listed] = await listApiKeys(world.db, SHOP)
    expect(listed).toMatchObject({ id, name: 'web shop', prefix: key.slice(0, 8) })
    expect(listed?.lastUsedAt).not.toBeNull()
    expect(JSON.stringify(listed)).not.toContain(key)
    await revokeApiKey(world.db, SHOP, id)
    expect(await holderOfKey(world.db, key)).toBeNull()
    expect(await listApiKeys(world.db, SHOP)).toEqual([])
    await expect(revokeApiKey(world.db, SHOP, id)).rejects.toMatchObject({ code: 'not_found' })
  })
  test('are of one shop: another cannot revoke them', async () => {
    const { key, id } = await createApiKey(world.db, SHOP, 'mine')
    await expect(revokeApiKey(world.db, 'other-shop', id)).rejects.toMatchObject({
      code: 'not_found',
    })
    expect(await holderOfKey(world.db, key)).toMatchObject({ shopId: SHOP, scopes: ['events'] })
  })
})
