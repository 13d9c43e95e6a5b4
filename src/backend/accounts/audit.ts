import { and, desc, eq, lt, or, sql } from 'drizzle-orm'
import type { AuditEntry } from '../../contract/audit.ts'
import { containing, type Db } from '../platform/db.ts'
import { realNow } from '../platform/realTime.ts'
import { auditEntries } from './tables.ts'

const PAGE = 60

/** Something that was changed, by whom, from what to what. */
export type NewAuditEntry = Omit<AuditEntry, 'id' | 'at'> & { shopId: string }

/** Notes that something was changed. */
export async function noteAudit(db: Db, entry: NewAuditEntry): Promise<void> {
  await db.insert(auditEntries).values({ ...entry, at: realNow() })
}

/** What was changed, the newest first, from a place on; a search looks at who, what, and the values. */
export async function auditPage(
  db: Db,
  shopId: string,
  { search = '', before, limit = PAGE }: { search?: string; before?: number | undefined; limit?: number },
): Promise<{ entries: AuditEntry[]; more: boolean }> {
  const { person, did, about, after, before: was } = auditEntries
  const like = containing(search)
  const matches = or(sql`${person} ilike ${like}`, sql`${did} ilike ${like}`, sql`${about}::text ilike ${like}`, sql`${was}::text ilike ${like}`, sql`${after}::text ilike ${like}`)
  const rows = await db
    .select()
    .from(auditEntries)
    .where(and(eq(auditEntries.shopId, shopId), before === undefined ? undefined : lt(auditEntries.id, before), search === '' ? undefined : matches))
    .orderBy(desc(auditEntries.id))
    .limit(limit + 1)
  const entries = rows.slice(0, limit).map(({ shopId: _shop, ...entry }) => entry)
  return { entries, more: rows.length > limit }
} // prettier-ignore

/** All of it, the newest first, a page at a time. */
export async function* everyAudit(db: Db, shopId: string): AsyncGenerator<object> {
  let before: number | undefined
  for (;;) {
    const { entries, more } = await auditPage(db, shopId, { before, limit: 500 })
    yield* entries.map(({ at, ...entry }) => ({ at: new Date(at).toISOString(), ...entry }))
    if (!more) return
    before = entries.at(-1)?.id
  }
}
