import { and, eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { measured } from './store.ts'
import { documents, files } from './tables.ts'

export interface FileUse {
  kind: 'workflow' | 'design' | 'keptBlock' | 'brand' | 'product'
  name: string
  workflow: string
}

interface KeptFile {
  id: string
  name: string
  type: string
  bytes: number
  madeAt: number
  uses: FileUse[]
}
export interface Picture extends KeptFile {
  width: number
  height: number
}

/** All that a shop has put in, the newest first, with where each is used: in drafts and what is live, designs, kept blocks, the brand, products. */
export async function listFiles(
  db: Db,
  shopId: string,
): Promise<{ pictures: Picture[]; documents: KeptFile[] }> {
  const [pictures, others, uses] = await Promise.all([
    db
      .select({ id: files.id, name: files.name, type: files.type, width: files.width, height: files.height, bytes: sql<number>`length(${files.bytes})`, madeAt: files.madeAt })
      .from(files)
      .where(eq(files.shopId, shopId)),
    db
      .select({ id: documents.id, name: documents.name, type: documents.type, bytes: sql<number>`length(${documents.bytes})`, madeAt: documents.madeAt })
      .from(documents)
      .where(eq(documents.shopId, shopId)),
    usesOf(db, shopId),
  ]) // prettier-ignore
  const withUses = <One extends { id: string; madeAt: number }>(all: One[]) =>
    all
      .toSorted((a, b) => b.madeAt - a.madeAt || (a.id < b.id ? -1 : 1))
      .map((one) => ({ ...one, uses: uses.get(one.id) ?? [] }))
  return { pictures: withUses(pictures), documents: withUses(others) }
}

const useRow = z.object({
  file: z.string(),
  kind: z.enum(['workflow', 'design', 'keptBlock', 'brand', 'product']),
  name: z.string(),
  workflow: z.string(),
})

/** Where each file is used, by its id. Pictures stand in documents as paths, files that are attached by their ids. */
async function usesOf(db: Db, shopId: string): Promise<Map<string, FileUse[]>> {
  const rows = await rowsOf(
    db,
    useRow,
    sql`
    with written as (
      select 'workflow' as kind, w.draft->>'name' as name, w.id as workflow, w.draft::text as text
      from workflows w where w.shop_id = ${shopId} and w.state <> 'retired'
      union all
      select 'workflow', w.draft->>'name', w.id, v.definition::text
      from workflows w join workflow_versions v
        on v.shop_id = w.shop_id and v.workflow_id = w.id and v.version = w.live_version
      where w.shop_id = ${shopId} and w.state <> 'retired'
      union all
      select 'design', d.name, '', d.blocks::text from (
        select distinct on (id) * from designs where shop_id = ${shopId} order by id, revision desc) d
      union all
      select 'keptBlock', name, '', blocks::text from kept_blocks where shop_id = ${shopId}
      union all
      select 'brand', '', '', brand::text from shops where id = ${shopId} and brand is not null
      union all
      select 'product', title, '', image_url from products
      where shop_id = ${shopId} and image_url like '/files/%'
    )
    select distinct found[1] as file, kind, name, workflow from written,
      regexp_matches(text, '(?:/files/|"id": ")([A-Za-z0-9_-]{10,60})', 'g') as found
    order by file, kind, name`,
  )
  const uses = new Map<string, FileUse[]>()
  for (const { file, ...use } of rows) uses.set(file, [...(uses.get(file) ?? []), use])
  return uses
}

/** Proportions that nobody sees a difference in. */
const SAME_PROPORTIONS = 0.02

/**
 * Puts another picture in the place of one, wherever it is used, messages that have gone out with it too. Throws
 * AppError for what is no picture, `not_found`, and where its proportions differ: it would be shown stretched.
 */
export async function replaceImage(
  db: Db,
  shopId: string,
  id: string,
  bytes: Buffer,
): Promise<void> {
  const [before] = await db
    .select({ width: files.width, height: files.height })
    .from(files)
    .where(and(eq(files.shopId, shopId), eq(files.id, id)))
  if (!before) throw new AppError('not_found', 'There is no such picture.')
  const { type, width, height } = measured(bytes)
  const ratio = width / height / (before.width / before.height)
  if (Math.abs(ratio - 1) > SAME_PROPORTIONS) {
    throw new AppError('bad_input', `It has other proportions: ${width} × ${height} instead of ${before.width} × ${before.height}. It would be shown stretched.`) // prettier-ignore
  }
  await db
    .update(files)
    .set({ type, width, height, bytes })
    .where(and(eq(files.shopId, shopId), eq(files.id, id)))
}

/** Keeps a picture or a file no longer. Messages that have gone out with the picture show none. */
export async function removeFile(db: Db, shopId: string, id: string): Promise<void> {
  await db.delete(files).where(and(eq(files.shopId, shopId), eq(files.id, id)))
  await db.delete(documents).where(and(eq(documents.shopId, shopId), eq(documents.id, id)))
}
