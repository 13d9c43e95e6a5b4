import { randomBytes } from 'node:crypto'
import { and, asc, eq, inArray } from 'drizzle-orm'
import type { LeafBlock } from '../../core/blocks/blocks.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { keptBlocksTable as table } from './tables.ts'

/** Blocks that are kept by themselves, under a name. */
export interface KeptBlocks {
  id: string
  name: string
  blocks: LeafBlock[]
}

/** All that a shop has kept, by name. */
export async function listSaved(db: Db, shopId: string): Promise<KeptBlocks[]> {
  return db.select().from(table).where(eq(table.shopId, shopId)).orderBy(asc(table.name))
}

/** Those of some ids, as they are now; what is gone is missing. */
export async function keptBlocks(
  db: Db,
  shopId: string,
  ids: readonly string[],
): Promise<Map<string, LeafBlock[]>> {
  const rows = await db
    .select()
    .from(table)
    .where(and(eq(table.shopId, shopId), inArray(table.id, [...ids])))
  return new Map(rows.map(({ id, blocks }) => [id, blocks]))
}

/** Keeps blocks under a name; resolves to the id they are used by. */
export async function keepBlocks(
  db: Db,
  shopId: string,
  { name, blocks }: Omit<KeptBlocks, 'id'>,
): Promise<string> {
  const id = randomBytes(9).toString('base64url')
  await db.insert(table).values({ shopId, id, name, blocks })
  return id
}

/** Changes kept blocks wherever they are used. Throws AppError `not_found`. */
export async function changeKept(db: Db, shopId: string, kept: KeptBlocks): Promise<void> {
  const { id, name, blocks } = kept
  const changed = await db
    .update(table)
    .set({ name, blocks })
    .where(and(eq(table.shopId, shopId), eq(table.id, id)))
    .returning({ id: table.id })
  if (changed.length === 0) throw new AppError('not_found', 'These blocks are not kept any more.')
}
