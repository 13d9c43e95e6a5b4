import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { AuditEntry } from '../contract/audit.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { PASSWORD } from '../testing/people.ts'
import { SHOP } from '../testing/world.ts'
import { AUDITED, NOT_AUDITED } from './audited.ts'
import { OPERATIONS } from './documented/operations.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const entries = async (search = '') =>
  (await api.call('GET', `/api/audit?search=${encodeURIComponent(search)}`)).json<{ entries: AuditEntry[] }>().entries // prettier-ignore
const RULES = { messageGap: null, quietHours: null, backOfficeUrl: null }

describe('what was changed is on record', () => {
  test('with who did it, what stood before and what stands now', async () => {
    await api.call('PUT', '/api/shop-rules', { ...RULES, messageGap: 'PT20H' })
    await api.call('PUT', '/api/shop-rules', { ...RULES, messageGap: 'P3D' })
    const [last, first] = await entries()
    expect(last).toMatchObject({
      person: 'Maren',
      did: 'Changed the rules of the shop',
      before: { messageGap: 'PT20H' },
      after: { messageGap: 'P3D' },
    })
    expect(first?.before).toMatchObject({ messageGap: null })
  })

  test('one member of a list, by its id; what was refused is not', async () => {
    const made = (await api.call('POST', '/api/keys', { name: 'web shop' })).json<{ id: string; key: string }>() // prettier-ignore
    await api.call('DELETE', `/api/keys/${made.id}`)
    await api.call('DELETE', `/api/keys/${made.id}`)
    const about = await entries('web shop')
    expect(about.map(({ did }) => did)).toEqual(['Revoked a key', 'Made a key'])
    expect(about[0]).toMatchObject({ about: { id: made.id }, before: { name: 'web shop' } })
    expect(JSON.stringify(await entries())).not.toContain(made.key)
  })

  test('no password, no secret', async () => {
    await api.call('PUT', '/api/account/password', { current: PASSWORD, next: 'four lazy drones hum' })
    await api.call('PUT', '/api/account/password', { current: 'four lazy drones hum', next: PASSWORD })
    const all = JSON.stringify(await entries())
    expect(all).toContain('Changed their own password')
    expect(all).not.toContain('four lazy drones hum')
    expect(all).not.toContain(PASSWORD)
  }) // prettier-ignore

  test('for owners, searched, as a file', async () => {
    expect((await api.call('GET', '/api/audit', undefined, { who: 'aoife' })).statusCode).toBe(403)
    expect(await entries('no such thing')).toEqual([])
    const file = await api.call('GET', '/api/audit-file?format=jsonl')
    const lines = file.body.trim().split('\n')
    expect(lines.length).toBe((await entries()).length)
    expect(JSON.parse(lines.at(-1) ?? '')).toMatchObject({ person: 'Maren', operation: 'PUT /api/shop-rules' }) // prettier-ignore
  })

  test('stays as it is, whoever tries', async () => {
    const { db } = api.world
    const refused = expect.objectContaining({ cause: expect.objectContaining({ message: expect.stringContaining('stays as it is') }) }) // prettier-ignore
    await expect(db.execute(sql`update audit_entries set person = 'nobody'`)).rejects.toEqual(
      refused,
    )
    await expect(db.execute(sql`delete from audit_entries where shop_id = ${SHOP}`)).rejects.toEqual(refused) // prettier-ignore
  })
})

test('every operation that changes something is on record, or says why it is not', () => {
  const changing = [...OPERATIONS.keys()].filter((key) => !key.startsWith('GET ') && key.includes(' /api/')) // prettier-ignore
  expect(changing.filter((key) => !(key in AUDITED) && !(key in NOT_AUDITED))).toEqual([])
  expect([...Object.keys(AUDITED), ...Object.keys(NOT_AUDITED)].filter((key) => !OPERATIONS.has(key))).toEqual([]) // prettier-ignore
})
