import { strToU8, unzipSync, zipSync } from 'fflate'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { findImage, storeImage } from '../backend/files/index.ts'
import { keepBlocks, listSaved } from '../backend/messages/index.ts'
import { createWorkflow } from '../backend/workflows/index.ts'
import type { ArchiveReport } from '../contract/archives.ts'
import type { Manifest } from '../core/archive/manifest.ts'
import { referencesIn } from '../core/archive/references.ts'
import type { Definition } from '../core/workflow/definition.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on } from '../testing/builders.ts'
import { IMAGE } from '../testing/image.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
let other: Api
let zip: Buffer
let first: string
beforeAll(async () => {
  api = await makeApi()
  other = await makeApi()
  const { db } = api.world
  for (const [world, id] of [[api.world, 'p-here'], [other.world, 'p-there']] as const)
    await world.db.execute(sql`insert into products (shop_id, id, title, price_minor, currency, as_of)
      values (${SHOP}, ${id}, 'Smoker, stainless', 1990, 'EUR', 0)`)
  await db.execute(sql`insert into products (shop_id, id, title, price_minor, currency, as_of) values (${SHOP}, 'p-own', 'Only here', 1990, 'EUR', 0)`)
  const picture = await storeImage(db, SHOP, { name: 'hive.png', bytes: IMAGE })
  const image = { key: 'i', kind: 'image' as const, src: `/files/${picture.id}`, alt: 'A hive', width: 300 }
  const kept = await keepBlocks(db, SHOP, { name: 'Signature', blocks: [image] })
  first = await createWorkflow(db, SHOP, aDefinition({ name: 'First' }))
  await createWorkflow(db, SHOP, aDefinition({
    name: 'Second',
    trigger: on('order.placed', { filter: { kind: 'lines', on: 'subject', how: 'some', of: [{ kind: 'field', field: 'line.product', op: 'in', value: ['p-here', 'p-own'] }] } }),
    exclusions: [{ key: 'x', effect: 'leave', when: { kind: 'workflows', workflow: first, state: 'isIn', window: { kind: 'ever' } } }],
    steps: [anEmail('thanks', { format: 'designed', sender: { name: 'Other', address: 'other@elsewhere.example' }, blocks: [image, { key: 'k', kind: 'kept', kept }] })],
  }))
  zip = (await api.call('GET', '/api/archive')).rawPayload
}) // prettier-ignore
afterAll(async () => {
  await other.close()
  await api.close()
})

const bring = (bytes: Uint8Array, query = '', who: 'maren' | 'aoife' = 'maren') =>
  other.call('POST', `/api/archive${query}`, Buffer.from(bytes), { type: 'application/zip', who })
const manifestIn = (bytes: Uint8Array) =>
  JSON.parse(Buffer.from(unzipSync(bytes)['archive.json'] ?? []).toString()) as Manifest

describe('an archive', () => {
  test('holds the workflows with all they refer to, each once', () => {
    const { workflows, kept, products, pictures } = manifestIn(zip)
    expect(workflows.map(({ definition }) => definition.name)).toEqual(['First', 'Second'])
    expect(kept.map(({ name }) => name)).toEqual(['Signature'])
    expect(products.map(({ title }) => title).toSorted()).toEqual([
      'Only here',
      'Smoker, stainless',
    ])
    expect(pictures).toHaveLength(1)
    expect(Buffer.from(unzipSync(zip)[pictures[0]?.path ?? ''] ?? [])).toEqual(IMAGE)
  })

  test('of one workflow names what it asks about elsewhere', async () => {
    const all = (await api.call('GET', '/api/workflow-names')).json<{ id: string; name: string }[]>()
    const second = all.find(({ name }) => name === 'Second')?.id ?? ''
    const manifest = manifestIn((await api.call('GET', `/api/archive?workflows=${second}`)).rawPayload)
    expect(manifest.workflows).toHaveLength(1)
    expect(manifest.otherWorkflows).toEqual([{ id: first, name: 'First' }])
    expect(manifest.brand).toBeNull()
    expect((await api.call('GET', '/api/archive?workflows=none')).statusCode).toBe(404)
  }) // prettier-ignore

  test('is tried, and then brought into another shop with what it refers to matched; what is not there is said', async () => {
    const tried = (await bring(zip, '?dry=yes')).json<ArchiveReport>()
    expect((await other.call('GET', '/api/workflow-names')).json()).toEqual([])
    expect((await listSaved(other.world.db, SHOP)).length).toBe(0)
    const report = (await bring(zip)).json<ArchiveReport>()
    expect(report).toMatchObject({ pictures: 1, kept: 1, brand: false })
    expect(report.workflows.map(({ name, remarks }) => [name, remarks])).toEqual([
      ['First', []],
      ['Second', ['It asks for the product “Only here”, which is not here.', 'It sends from other@elsewhere.example, which is no sender here.']],
    ])
    expect(tried.workflows.map(({ remarks }) => remarks)).toEqual(report.workflows.map(({ remarks }) => remarks))
    const [one, two] = report.workflows
    const { draft } = (await other.call('GET', `/api/workflows/${two?.id}`)).json<{ draft: Definition }>()
    const referred = referencesIn(draft)
    expect([...referred.workflows]).toEqual([one?.id])
    expect([...referred.products]).toEqual(['p-there', 'p-own'])
    const [picture = ''] = referred.pictures
    expect((await findImage(other.world.db, picture))?.bytes).toEqual(IMAGE)
    expect((await listSaved(other.world.db, SHOP))[0]?.id).toBe([...referred.kept][0])
  }) // prettier-ignore

  test('brought in again gets names that are free', async () => {
    const report = (await bring(zip)).json<ArchiveReport>()
    expect(report.workflows.map(({ name }) => name)).toEqual(['First (2)', 'Second (2)'])
  })

  test('staff brings nothing in', async () => {
    expect((await bring(zip, '', 'aoife')).statusCode).toBe(403)
  })
})

/** A small ZIP file that says of itself that it unpacks to so many bytes (APPNOTE 4.3.12: the central directory). */
function saying(bytes: number): Uint8Array {
  const made = Buffer.from(zipSync({ 'archive.json': strToU8('{}') }))
  made.writeUInt32LE(bytes, made.indexOf('PK\u0001\u0002') + 24)
  return made
}

describe('what is no archive gets a clear answer', () => {
  const manifest = () => manifestIn(zip)
  test.each([
    ['no ZIP file', () => strToU8('PK\u0003\u0004 not really'), /ZIP|archive/],
    ['a ZIP file of something else', () => zipSync({ 'a.txt': strToU8('a') }), /archive\.json/],
    ['JSON that is none', () => zipSync({ 'archive.json': strToU8('{') }), /not JSON/],
    ['a version of tomorrow', () => zipSync({ 'archive.json': strToU8(JSON.stringify({ ...manifest(), formatVersion: 9 })) }), /does not know/],
    ['a bomb of nothing', () => saying(200 * 1024 * 1024), /150 MB/],
    ['a picture that is none', () => zipSync({ 'archive.json': strToU8(JSON.stringify(manifest())), [manifest().pictures[0]?.path ?? '']: strToU8('<svg>') }), /no image/],
  ] as const)('%s', async (_, make, said) => {
    const answer = await bring(make())
    expect([400, 413]).toContain(answer.statusCode)
    expect(answer.json<{ detail: string }>().detail).toMatch(said)
  }) // prettier-ignore

  test('a picture that is missing is said, and the rest comes', async () => {
    const report = (await bring(zipSync({ 'archive.json': strToU8(JSON.stringify(manifest())) }))).json<ArchiveReport>() // prettier-ignore
    expect(report.pictures).toBe(0)
    expect(report.remarks[0]).toMatch(/is not in the archive/)
  })
})
