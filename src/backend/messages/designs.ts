import { randomBytes } from 'node:crypto'
import { and, desc, eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Block } from '../../core/blocks/blocks.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock } from '../shop/index.ts'
import { designs as table } from './tables.ts'

/** What a shop keeps of a design. */
export interface DesignParts {
  name: string
  subject: string
  previewText: string
  blocks: Block[]
}

export interface KeptDesign extends DesignParts {
  id: string
  revision: number
}

const GONE = 'This design is not kept any more.'

/** A shop's designs as they are now, by name. */
export async function listDesigns(db: Db, shopId: string): Promise<KeptDesign[]> {
  const rows = await db
    .selectDistinctOn([table.id])
    .from(table)
    .where(eq(table.shopId, shopId))
    .orderBy(table.id, desc(table.revision))
  return rows.toSorted((a, b) => a.name.localeCompare(b.name))
}

/** A design as it was in a revision. Throws AppError `not_found`. */
export async function findDesign(
  db: Db,
  shopId: string,
  id: string,
  revision: number,
): Promise<KeptDesign> {
  const [row] = await db
    .select()
    .from(table)
    .where(and(eq(table.shopId, shopId), eq(table.id, id), eq(table.revision, revision)))
  if (!row) throw new AppError('not_found', GONE)
  return row
}

/** Keeps a design; resolves to the id and revision by which messages know it. */
export async function keepDesign(
  db: Db,
  shopId: string,
  parts: DesignParts,
): Promise<Pick<KeptDesign, 'id' | 'revision'>> {
  const id = randomBytes(9).toString('base64url')
  const { now } = await readClock(db, shopId)
  await db.insert(table).values({ shopId, id, revision: 1, ...parts, madeAt: now })
  return { id, revision: 1 }
}

/**
 * Changes a design as it was in `revision`; what was made of it is asked to take that over, and changes only
 * then. Throws AppError `not_found`, and `conflict` when somebody else has changed it since.
 */
export async function changeDesign(
  db: Db,
  shopId: string,
  { id, revision, ...parts }: KeptDesign,
): Promise<number> {
  const { now } = await readClock(db, shopId)
  await findDesign(db, shopId, id, revision)
  const next = revision + 1
  const made = await db
    .insert(table)
    .values({ shopId, id, revision: next, ...parts, madeAt: now })
    .onConflictDoNothing()
    .returning({ revision: table.revision })
  if (made.length === 0) throw new AppError('conflict', 'Somebody else has changed this design. Look at it as it is now.') // prettier-ignore
  return next
}

/** Renames a design, in all its revisions. Throws AppError `not_found`. */
export async function renameDesign(
  db: Db,
  shopId: string,
  id: string,
  name: string,
): Promise<void> {
  const renamed = await db
    .update(table)
    .set({ name })
    .where(and(eq(table.shopId, shopId), eq(table.id, id)))
    .returning({ id: table.id })
  if (renamed.length === 0) throw new AppError('not_found', GONE)
}

/** Keeps a design no longer. What was made of it stays as it is. */
export async function removeDesign(db: Db, shopId: string, id: string): Promise<void> {
  await db.delete(table).where(and(eq(table.shopId, shopId), eq(table.id, id)))
}

/** How many messages of drafts are made of each design. */
export async function designUses(db: Db, shopId: string): Promise<Map<string, number>> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.string(), uses: z.number() }),
    sql`select d->>'id' as id, count(*)::int as uses
    from workflows w, jsonb_path_query(w.draft, 'strict $.**.design') as d
    where w.shop_id = ${shopId} and w.state <> 'retired' and d->>'id' is not null group by 1`,
  )
  return new Map(rows.map(({ id, uses }) => [id, uses]))
}
