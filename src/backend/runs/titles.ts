import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { WordContext } from '../../core/words/conditions.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'

/** The words of a shop, with the names of the workflows that some ledger entries speak of. */
export async function wordsFor(
  db: Db,
  shop: Shop,
  entries: readonly object[],
): Promise<WordContext> {
  const ids = [...new Set(entries.flatMap(behindIn))]
  if (ids.length === 0) return shop
  const rows = await rowsOf(
    db,
    z.object({ id: z.string(), name: z.string() }),
    sql`select id, draft->>'name' as name from workflows
    where shop_id = ${shop.id} and id = any(${arrayOf(ids, 'text')})`,
  )
  const names = new Map(rows.map(({ id, name }) => [id, name]))
  return { ...shop, titleOf: (kind, id) => (kind === 'workflows' ? names.get(id) : undefined) }
}

/** The workflow that went first, where an entry says that one did. */
function behindIn(entry: { reason?: { behind?: string } }): string[] {
  return entry.reason?.behind === undefined ? [] : [entry.reason.behind]
}
