import { and, asc, eq, sql } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import type { Segment } from '../../contract/people.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock } from '../shop/index.ts'
import { segments } from './tables.ts'

const COLUMNS = {
  id: segments.id,
  name: segments.name,
  condition: segments.condition,
  person: segments.person,
  changedAt: segments.changedAt,
}

/** All segments of a shop, by name. */
export function listSegments(db: Db, shopId: string): Promise<Segment[]> {
  return db.select(COLUMNS).from(segments).where(eq(segments.shopId, shopId)).orderBy(asc(segments.name)) // prettier-ignore
}

/** One segment. Throws AppError `not_found`. */
export async function findSegment(db: Db, shopId: string, id: string): Promise<Segment> {
  const [found] = await db.select(COLUMNS).from(segments).where(byId(shopId, id))
  if (!found) throw new AppError('not_found', 'There is no such segment.')
  return found
}

interface Written {
  name: string
  condition: Condition
  person: string
}

/** Keeps a condition under a name. Returns its id. Throws AppError `conflict` where the name is taken. */
export async function addSegment(db: Db, shopId: string, written: Written): Promise<string> {
  await refuseTaken(db, shopId, written.name, null)
  const { now } = await readClock(db, shopId)
  const id = randomUUID()
  await db.insert(segments).values({ shopId, id, ...written, changedAt: now })
  return id
}

/** Changes a segment. Throws AppError `not_found`, or `conflict` where the name is another's. */
export async function saveSegment(
  db: Db,
  shopId: string,
  id: string,
  written: Written,
): Promise<void> {
  await refuseTaken(db, shopId, written.name, id)
  const { now } = await readClock(db, shopId)
  const saved = await db
    .update(segments)
    .set({ ...written, changedAt: now })
    .where(byId(shopId, id))
    .returning({ id: segments.id })
  if (saved.length === 0) throw new AppError('not_found', 'There is no such segment.')
}

/** Forgets a segment. Throws AppError `not_found`. */
export async function removeSegment(db: Db, shopId: string, id: string): Promise<void> {
  const gone = await db.delete(segments).where(byId(shopId, id)).returning({ id: segments.id })
  if (gone.length === 0) throw new AppError('not_found', 'There is no such segment.')
}

async function refuseTaken(
  db: Db,
  shopId: string,
  name: string,
  own: string | null,
): Promise<void> {
  const [taken] = await db
    .select({ id: segments.id })
    .from(segments)
    .where(and(eq(segments.shopId, shopId), sql`lower(${segments.name}) = lower(${name})`))
  if (!taken || taken.id === own) return
  throw new AppError('conflict', `There is a segment “${name}” already. Choose another name.`)
}

const byId = (shopId: string, id: string) => and(eq(segments.shopId, shopId), eq(segments.id, id))
