import { Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import { ARCHIVE_VERSION, type Manifest } from '../../core/archive/manifest.ts'
import { referencesIn } from '../../core/archive/references.ts'
import { groupsOf } from '../addresses/index.ts'
import { documentsOf, findImage } from '../files/index.ts'
import { listDesigns, listSaved } from '../messages/index.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { productTitles, type Shop } from '../shop/index.ts'
import { listWorkflows } from '../workflows/index.ts'

/** Of one picture after the other, only one is in memory. */
type Entry = { path: string; read: () => Promise<Buffer | null> }

/**
 * Workflows as an archive: a ZIP file with `archive.json`, and the pictures and files to attach that they show. All of a shop's with its
 * brand and kept designs, or those of some ids. It is written as it is read. Throws AppError `not_found`.
 */
export async function* packArchive(
  db: Db,
  shop: Shop,
  ids: readonly string[] | null,
): AsyncGenerator<Uint8Array> {
  const { manifest, entries } = await manifestOf(db, shop, ids)
  const ready: Uint8Array[] = []
  const zip = new Zip((error, chunk) => {
    if (error) throw error
    ready.push(chunk)
  })
  const text = new ZipDeflate('archive.json', { level: 6 })
  zip.add(text)
  text.push(new TextEncoder().encode(JSON.stringify(manifest, null, 1)), true)
  for (const { path, read } of entries) {
    yield* ready.splice(0)
    const bytes = await read()
    // Pictures and documents are packed already.
    const file = new ZipPassThrough(path)
    zip.add(file)
    file.push(bytes ?? new Uint8Array(), true)
  }
  zip.end()
  yield* ready.splice(0)
}

async function manifestOf(
  db: Db,
  shop: Shop,
  ids: readonly string[] | null,
): Promise<{ manifest: Manifest; entries: Entry[] }> {
  const all = await listWorkflows(db, shop.id)
  const chosen = ids === null ? all : all.filter(({ workflow }) => ids.includes(workflow.id))
  if (ids !== null && chosen.length < ids.length) throw new AppError('not_found', 'There is no such workflow.')
  const workflows = chosen.map(({ workflow: { id, draft } }) => ({ id, definition: draft }))
  const saved = await listSaved(db, shop.id)
  const kept = saved.filter(({ id }) => ids === null || referencesIn(workflows).kept.has(id))
  const designs = ids === null ? (await listDesigns(db, shop.id)).map(({ name, subject, previewText, blocks }) => ({ name, subject, previewText, blocks })) : []
  const brand = ids === null ? shop.brand : null
  const referred = referencesIn({ workflows, kept, designs, brand })
  const own = new Set(workflows.map(({ id }) => id))
  const titles = await productTitles(db, shop.id, [...referred.products])
  const groups = await groupsOf(db, shop.id)
  const attached: { id: string; name: string; bytes: Buffer }[] = []
  for (const id of referred.documents) {
    const [found] = await documentsOf(db, shop.id, [id])
    if (found) attached.push({ id, name: found.name, bytes: found.bytes })
  }
  const pictures = [...referred.pictures].map((id) => ({ id, name: id, path: `pictures/${id}` }))
  const documents = attached.map(({ id, name }) => ({ id, name, path: `files/${id}` }))
  const manifest: Manifest = {
    format: 'yomble.archive',
    formatVersion: ARCHIVE_VERSION,
    shop: shop.name,
    workflows,
    otherWorkflows: all
      .filter(({ workflow: { id } }) => referred.workflows.has(id) && !own.has(id))
      .map(({ workflow: { id, draft } }) => ({ id, name: draft.name })),
    products: [...titles].map(([id, title]) => ({ id, title })),
    groups: groups.filter(({ key }) => referred.groups.has(key)).map(({ key, name }) => ({ id: key, name })),
    kept,
    designs,
    brand,
    pictures,
    documents,
  }
  const entries = [
    ...pictures.map(({ id, path }) => ({ path, read: async () => (await findImage(db, id))?.bytes ?? null })),
    ...attached.map(({ id, bytes }) => ({ path: `files/${id}`, read: () => Promise.resolve(bytes) })),
  ]
  return { manifest, entries }
} // prettier-ignore
