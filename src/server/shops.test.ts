import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { z } from 'zod'
import { hashPassword, keepUser } from '../backend/accounts/index.ts'
import { rowsOf } from '../backend/platform/db.ts'
import type { Condition } from '../core/conditions/condition.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, aDefinition, anEmail, orderEvent, START, wait } from '../testing/builders.ts'
import { IMAGE } from '../testing/image.ts'
import { addShop, SHOP } from '../testing/world.ts'
import { OPERATIONS } from './documented/operations.ts'

/** Stands in everything of the one shop that another might be shown. */
const MARK = 'Zambujal'
const ORIGIN = 'http://localhost:8080'
const PASSWORD = 'a hive of its own kind'

let api: Api
/** The cookie of an owner of another shop. */
let stranger: string
/** What the first shop has, by the part of the address that stands before its id. */
const own: Record<string, string> = {}

beforeAll(async () => {
  api = await makeApi()
  const { world } = api
  const made = async (path: string, body: object | Buffer, type?: string): Promise<string> => {
    const answer = await api.call('POST', path, body, { ...(type && { type }) })
    expect(answer.statusCode, path + answer.body).toBeLessThan(300)
    return answer.body === '' ? '' : (answer.json<{ id?: string }>().id ?? '')
  }
  const club: Condition = { kind: 'field', field: 'customer.tags', op: 'hasAny', value: [MARK] }
  own['workflows'] = await world.publish(aDefinition({ name: MARK, steps: [anEmail('m', { name: MARK, subject: MARK }), wait('w', 'P3D'), anEmail('n')] })) // prettier-ignore
  own['people'] = `c-${MARK}`
  own['orders'] = `o-${MARK}`
  await world.post(orderEvent('order.placed', START, { id: own['orders'], number: `N-${MARK}`, customerId: own['people'] }, aCustomer({ id: own['people'], lastName: MARK, email: `${MARK}@example.org`, tags: [MARK] }))) // prettier-ignore
  for (const kind of ['runs', 'mails', 'messages']) own[kind] = '1'
  own['designs'] = await made('/api/designs', { name: MARK, subject: MARK, previewText: '', blocks: [{ key: 'd', kind: 'divider' }] }) // prettier-ignore
  own['files'] = await made('/api/files?name=a.png', IMAGE, 'application/octet-stream')
  own['documents'] = await made(`/api/documents?name=${MARK}.pdf`, Buffer.from('%PDF-1.4\n'), 'application/octet-stream') // prettier-ignore
  own['segments'] = await made('/api/segments', { name: MARK, condition: club })
  own['connections'] = await made('/api/connections', { name: MARK })
  own['keys'] = await made('/api/keys', { name: MARK })
  own['imports'] = await made(`/api/imports?name=${MARK}.csv`, Buffer.from(`email;reason\n${MARK}@example.org;bounced\n`), 'text/csv') // prettier-ignore
  own['senders'] = 'maren@combwright.example'
  own['users'] = 's'
  own['staff-groups'] = 'care'
  await api.call('PUT', '/api/staff-groups/care', {
    name: MARK,
    addresses: [`${MARK}@example.org`],
  })
  await api.call('POST', '/api/labels', { kind: 'list', name: MARK, change: 'add', people: [own['people']] }) // prettier-ignore
  await world.settle()

  await addShop(world.db, 'other-shop')
  await keepUser(world.db, 'other-shop', { id: 'o', email: 'owner@other.example', name: 'Other', role: 'owner', passwordHash: await hashPassword(PASSWORD) }) // prettier-ignore
  const answer = await api.app.inject({ method: 'POST', url: '/api/session', headers: { origin: ORIGIN }, payload: { email: 'owner@other.example', password: PASSWORD } }) // prettier-ignore
  stranger = String(answer.headers['set-cookie']).split(';')[0] ?? ''
})
afterAll(() => api.close())

const OTHERS: Readonly<Record<string, string>> = { step: 'm', version: '1', revision: '1', kind: 'customers', key: 'care', token: 'nobody' } // prettier-ignore

/** The address of an operation with what the first shop has in the place of its names. */
function addressOf(path: string): string {
  return path.replaceAll(/([\w-]+)\/\{(\w+)\}/g, (_all, before: string, name: string) => `${before}/${encodeURIComponent(own[before] ?? OTHERS[name] ?? 'x')}`) // prettier-ignore
}

const ofPeople = [...OPERATIONS].filter(([key, { access }]) => key.includes(' /api/') && access !== 'open').map(([key]) => key.split(' ') as ['GET' | 'POST' | 'PUT' | 'DELETE', string]) // prettier-ignore

/** Every row of the first shop, but what signing in and asking write by themselves. */
async function everything(): Promise<string[]> {
  const tables = await rowsOf(api.world.db, z.object({ name: z.string() }), sql`
    select table_name as name from information_schema.columns where table_schema = 'public' and column_name = 'shop_id' order by 1`) // prettier-ignore
  const rows: string[] = []
  for (const { name } of tables) {
    if (['sessions', 'result_days', 'sending_days', 'changes'].includes(name)) continue
    const found = await rowsOf(api.world.db, z.object({ row: z.string() }), sql`select to_jsonb(t)::text as row from ${sql.identifier(name)} t where shop_id = ${SHOP} order by 1`) // prettier-ignore
    rows.push(...found.map(({ row }) => `${name} ${row}`))
  }
  return rows
}

describe('a shop knows nothing of another', () => {
  const reads = ofPeople.filter(([method]) => method === 'GET')

  test('the mark is seen by who it belongs to', async () => {
    const seen = await Promise.all(
      reads.map(async ([, path]) => (await api.call('GET', addressOf(path))).body.includes(MARK)),
    )
    // Else nothing would be shown by its not being there.
    expect(seen.filter(Boolean).length).toBeGreaterThan(25)
  })

  test.each(reads)('%s %s shows nothing of it', async (method, path) => {
    const answer = await api.app.inject({ method, url: addressOf(path), headers: { cookie: stranger } }) // prettier-ignore
    expect(answer.statusCode).toBeLessThan(500)
    expect(decodeURIComponent(answer.body.replaceAll('%', '%25'))).not.toContain(MARK)
  })

  test('nothing that changes something reaches across', async () => {
    const before = await everything()
    const bodies = [undefined, {}, { role: 'staff' }, { revision: 0 }, { did: 'takeOut' }, { did: 'erase', id: own['people'] }, { id: own['people'] }, { kind: 'list', name: 'x', change: 'add', people: [own['people']] }] // prettier-ignore
    const isDone: string[] = []
    for (const [method, path] of ofPeople.filter(([one]) => one !== 'GET')) {
      // The account of the stranger itself has to last until the end.
      if (path.startsWith('/api/account') || path === '/api/session') continue
      for (const payload of bodies) {
        const answer = await api.app.inject({ method, url: addressOf(path), headers: { cookie: stranger, origin: ORIGIN }, ...(payload && { payload }) }) // prettier-ignore
        expect(answer.statusCode, `${method} ${path} ${answer.body}`).toBeLessThan(500)
        if (answer.statusCode < 300 && path.includes('{')) isDone.push(`${method} ${path}`)
      }
    }
    expect(await everything()).toEqual(before)
    // What is taken all the same does nothing: to remove what is not there, and what has no id of a shop.
    expect([...new Set(isDone)].filter((key) => !key.startsWith('DELETE'))).toEqual([
      'POST /api/workflows/{id}/intakes/stop',
    ])
  })
})
