import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { ArchiveReport } from '../../contract/archives.ts'
import type { Manifest } from '../../core/archive/manifest.ts'
import { referencesIn, withReplaced, type Replacements } from '../../core/archive/references.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { addressBook } from '../addresses/index.ts'
import { storeDocument, storeImage } from '../files/index.ts'
import { keepBlocks, keepDesign, listDesigns, listSaved } from '../messages/index.ts'
import { rowsOf, type Database, type Db } from '../platform/db.ts'
import { saveBrand } from '../shop/index.ts'
import { createWorkflow, saveDraft, workflowNames } from '../workflows/index.ts'
import type { Archive } from './read.ts'

class RolledBack extends Error {}

/**
 * Takes an archive of workflows in: each becomes a draft, with its pictures, files and kept blocks; products, workflows, groups and
 * senders are matched by id, then by name, and what is not here is said. The brand comes along when that is asked for.
 * `dry`: how it would be; nothing of it stays. Throws AppError `bad_input` where a picture or file is none.
 */
export async function takeArchive(
  db: Database,
  shopId: string,
  archive: Archive,
  { dry, withBrand }: { dry: boolean; withBrand: boolean },
): Promise<ArchiveReport> {
  let report: ArchiveReport | null = null
  try {
    await db.transaction(async (tx) => {
      report = await take(tx, shopId, archive, withBrand)
      if (dry) throw new RolledBack()
    })
  } catch (error) {
    if (!(error instanceof RolledBack)) throw error
  }
  if (!report) throw new RangeError('The archive was not taken in')
  return report
}

async function take(
  db: Db,
  shopId: string,
  { manifest, bytesAt }: Archive,
  withBrand: boolean,
): Promise<ArchiveReport> {
  const missing: string[] = []
  const pictures = new Map<string, string>()
  for (const { id, name, path } of manifest.pictures) {
    const bytes = bytesAt(path)
    if (!bytes || bytes.length === 0) missing.push(`The picture ${path} is not in the archive.`)
    else pictures.set(id, (await storeImage(db, shopId, { name, bytes })).id)
  }
  const documents = new Map<string, string>()
  for (const { id, name, path } of manifest.documents) {
    const bytes = bytesAt(path)
    if (!bytes) missing.push(`The file “${name}” is not in the archive.`)
    else documents.set(id, await storeDocument(db, shopId, { name, bytes }))
  }
  const own: Replacements = { pictures, documents, products: await productsHere(db, shopId, manifest) }
  const kept = await keptHere(db, shopId, manifest, own)
  const made = await draftsOf(db, shopId, manifest, { ...own, kept: kept.ids })
  const designs = await designsHere(db, shopId, manifest, { ...own, kept: kept.ids })
  const brand = withBrand && manifest.brand !== null
  if (brand && manifest.brand) await saveBrand(db, shopId, withReplaced(manifest.brand, own))
  return {
    from: manifest.shop,
    workflows: made,
    pictures: pictures.size,
    documents: documents.size,
    kept: kept.added,
    designs,
    hasBrand: manifest.brand !== null,
    brand,
    remarks: missing,
  }
} // prettier-ignore

const productRow = z.object({ id: z.string(), title: z.string() })

/** Products of the other shop as this one has them: by their id, else by their title. */
async function productsHere(
  db: Db,
  shopId: string,
  { products }: Manifest,
): Promise<ReadonlyMap<string, string>> {
  if (products.length === 0) return new Map()
  const ids = sql.param(products.map(({ id }) => id))
  const titles = sql.param(products.map(({ title }) => title.toLowerCase()))
  const here = await rowsOf(db, productRow, sql`select id, title from products
    where shop_id = ${shopId} and (id = any(${ids}::text[]) or lower(title) = any(${titles}::text[]))`)
  const byId = new Set(here.map(({ id }) => id))
  const byTitle = new Map(here.map(({ id, title }) => [title.toLowerCase(), id]))
  return new Map(products.flatMap(({ id, title }) => {
    const found = byId.has(id) ? id : byTitle.get(title.toLowerCase())
    return found === undefined ? [] : [[id, found] as const]
  }))
} // prettier-ignore

/** Kept blocks: those of the same name and content are used, the others are added. */
async function keptHere(
  db: Db,
  shopId: string,
  { kept }: Manifest,
  by: Replacements,
): Promise<{ ids: ReadonlyMap<string, string>; added: number }> {
  const here = await listSaved(db, shopId)
  const ids = new Map<string, string>()
  let added = 0
  for (const { id, name, blocks } of kept) {
    const own = withReplaced(blocks, by)
    const same = here.find((one) => one.name === name && JSON.stringify(one.blocks) === JSON.stringify(own)) // prettier-ignore
    if (!same) added += 1
    ids.set(id, same?.id ?? (await keepBlocks(db, shopId, { name, blocks: own })))
  }
  return { ids, added }
}

async function designsHere(
  db: Db,
  shopId: string,
  { designs }: Manifest,
  by: Replacements,
): Promise<number> {
  const names = new Set((await listDesigns(db, shopId)).map(({ name }) => name))
  const fresh = designs.filter(({ name }) => !names.has(name))
  for (const design of fresh) await keepDesign(db, shopId, withReplaced(design, by))
  return fresh.length
}

/** Each workflow as a draft; first all are made, since they may ask about each other. */
async function draftsOf(
  db: Db,
  shopId: string,
  manifest: Manifest,
  by: Replacements,
): Promise<ArchiveReport['workflows']> {
  const here = await workflowNames(db, shopId)
  const names = new Set(here.map(({ name }) => name))
  const workflows = new Map<string, string>()
  for (const { id, name } of manifest.otherWorkflows) {
    const same = here.find((one) => one.name === name)
    if (same) workflows.set(id, same.id)
  }
  const made: { id: string; definition: Definition }[] = []
  for (const { id: before, definition } of manifest.workflows) {
    const name = freeName(definition.name, names)
    names.add(name)
    const own = { ...withReplaced(definition, by), name }
    const id = await createWorkflow(db, shopId, own)
    workflows.set(before, id)
    made.push({ id, definition: own })
  }
  const book = await addressBook(db, shopId)
  const context = { manifest, workflows, products: by.products ?? new Map<string, string>(), senders: new Set(book.senders.map(({ address }) => address)), groups: new Set(book.groups.map(({ key }) => key)) } // prettier-ignore
  const reports: ArchiveReport['workflows'] = []
  for (const [place, { id, definition }] of made.entries()) {
    const before = manifest.workflows[place]
    const own = withReplaced(definition, { workflows })
    if (JSON.stringify(own) !== JSON.stringify(definition)) await saveDraft(db, shopId, id, 0, own)
    reports.push({ id, name: definition.name, remarks: before ? remarksOn(before.definition, context) : [] }) // prettier-ignore
  }
  return reports
}

/** A name that no workflow has. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(name)) return name
  for (let number = 2; ; number += 1) {
    const next = `${name.slice(0, 100)} (${number})`
    if (!taken.has(next)) return next
  }
}

interface Context {
  manifest: Manifest
  workflows: ReadonlyMap<string, string>
  products: ReadonlyMap<string, string>
  senders: ReadonlySet<string>
  groups: ReadonlySet<string>
}

/** What a workflow refers to and this shop has not. */
function remarksOn(definition: Definition, { manifest, workflows, products, senders, groups }: Context): string[] {
  const referred = referencesIn(definition)
  const nameIn = (list: readonly { id: string; name: string }[], id: string): string => list.find((one) => one.id === id)?.name ?? id
  const titles = new Map(manifest.products.map(({ id, title }) => [id, title]))
  return [
    ...[...referred.workflows].filter((id) => !workflows.has(id)).map((id) => `It asks about the workflow “${nameIn(manifest.otherWorkflows, id)}”, which is not here.`),
    ...[...referred.products].filter((id) => !products.has(id)).map((id) => `It asks for the product “${titles.get(id) ?? id}”, which is not here.`),
    ...[...referred.senders].filter((address) => !senders.has(address)).map((address) => `It sends from ${address}, which is no sender here.`),
    ...[...referred.groups].filter((key) => !groups.has(key)).map((key) => `It writes to the group “${nameIn(manifest.groups, key)}”, which is not here.`),
  ]
} // prettier-ignore
