import { and, asc, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { isBehindCursor, lockRuns, type KeptRun } from './store.ts'
import { bulkChanges } from './tables.ts'

/*
 * What is done to everybody in a workflow at once. It holds from the moment at which it was asked for, whatever a run’s turn
 * is; the rows themselves are changed behind it, a batch in a transaction. A worker that meets a run before its turn sees that
 * it is part of an open change, and does what the change would (`drivers/live/bulk/gate.ts`).
 */

type BulkKind = 'release' | 'end' | 'move'
export type BulkChange = typeof bulkChanges.$inferSelect

/** What is to be done, and with whom. */
export interface NewBulkChange {
  workflowId: string
  kind: BulkKind
  /** Who asked for it, and when, by the shop clock. */
  person: string
  now: Instant
  /** For `release`: messages whose moment was before this are passed over. */
  skipBefore?: Instant | null
  /** For `move`: to which version. */
  toVersion?: number
}

/** Those a change of a workflow still concerns, in SQL. */
function concerned({ kind, begunAt, toVersion }: Pick<BulkChange, 'kind' | 'begunAt' | 'toVersion'>): SQL {
  switch (kind) {
    case 'release':
      return sql`(due_at is null or due_at <= ${begunAt})`
    case 'end':
      return sql`true`
    case 'move':
      return sql`version <> ${toVersion}`
  }
} // prettier-ignore

/** Begins a change; an open one of the same kind is over with that. */
export async function beginBulk(db: Db, shopId: string, given: NewBulkChange): Promise<BulkChange> {
  const { workflowId, kind, person, now, skipBefore = null, toVersion = null } = given
  await endBulk(db, shopId, workflowId, now, kind)
  const [row] = await rowsOf(db, z.object({ people: z.number(), last: z.number() }), sql`
    select count(*)::int as people, coalesce(max(id), 0) as last from runs
    where shop_id = ${shopId} and workflow_id = ${workflowId} and status = 'inProgress'
      and ${concerned({ kind, begunAt: now, toVersion })}`) // prettier-ignore
  const { people = 0, last = 0 } = row ?? {}
  const endedAt = people === 0 ? now : null
  const [begun] = await db
    .insert(bulkChanges)
    .values({
      shopId,
      workflowId,
      kind,
      person,
      skipBefore,
      toVersion,
      people,
      begunAt: now,
      upToRun: last,
      endedAt,
    }) // prettier-ignore
    .returning()
  if (!begun) throw new Error('A change that was just begun is not there')
  return begun
}

/** Ends what is open of a workflow: of one kind, or all of it. */
export async function endBulk(
  db: Db,
  shopId: string,
  workflowId: string,
  now: Instant,
  kind?: BulkKind,
): Promise<void> {
  await db
    .update(bulkChanges)
    .set({ endedAt: now })
    .where(and(openOf(shopId), eq(bulkChanges.workflowId, workflowId), kind && eq(bulkChanges.kind, kind))) // prettier-ignore
}

/** The open changes of workflows, the oldest first. */
export function openBulk(
  db: Db,
  shopId: string,
  workflowIds: readonly string[],
): Promise<BulkChange[]> {
  return db
    .select()
    .from(bulkChanges)
    .where(and(openOf(shopId), inArray(bulkChanges.workflowId, [...workflowIds])))
    .orderBy(asc(bulkChanges.id))
}

/** The workflows of a shop that have open changes. */
export async function workflowsWithBulk(db: Db, shopId: string): Promise<string[]> {
  const rows = await db
    .selectDistinct({ id: bulkChanges.workflowId })
    .from(bulkChanges)
    .where(openOf(shopId))
  return rows.map(({ id }) => id)
}

/** The oldest open change of a workflow that no other worker is at, locked; undefined where there is none. */
export async function takeBulk(
  db: Db,
  shopId: string,
  workflowId: string,
): Promise<BulkChange | undefined> {
  const [change] = await db
    .select()
    .from(bulkChanges)
    .where(and(openOf(shopId), eq(bulkChanges.workflowId, workflowId)))
    .orderBy(asc(bulkChanges.id))
    .limit(1)
    .for('update', { skipLocked: true })
  return change
}

/** The runs whose turn is next, locked; none when the change is done. */
export function nextOfBulk(
  db: Db,
  { shopId, workflowId, ...change }: BulkChange,
  most: number,
): Promise<KeptRun[]> {
  const { lastVersion, lastRun, upToRun } = change
  const where = sql`${concerned(change)} and ${isBehindCursor(lastVersion, lastRun)} and id <= ${upToRun}`
  return lockRuns(db, shopId, workflowId, where, most)
}

/** Keeps how far a change has come; with no runs it is done. */
export async function noteBulk(
  db: Db,
  change: BulkChange,
  { runs, stay = 0, now }: { runs: readonly KeptRun[]; stay?: number; now: Instant },
): Promise<BulkChange> {
  const last = runs.at(-1)
  const [noted] = await db
    .update(bulkChanges)
    .set({
      done: change.done + runs.length - stay,
      stay: change.stay + stay,
      ...(last ? { lastVersion: last.version, lastRun: last.id } : { endedAt: now }),
    })
    .where(and(eq(bulkChanges.shopId, change.shopId), eq(bulkChanges.id, change.id)))
    .returning()
  return noted ?? change
}

/** Whether it is still a run’s turn to come in a change. */
export function isAhead({ lastVersion, lastRun, upToRun }: BulkChange, run: Pick<KeptRun, 'id' | 'version'>): boolean {
  if (run.id > upToRun) return false
  return run.version > lastVersion || (run.version === lastVersion && run.id > lastRun)
} // prettier-ignore

const openOf = (shopId: string): SQL | undefined =>
  and(eq(bulkChanges.shopId, shopId), isNull(bulkChanges.endedAt))
