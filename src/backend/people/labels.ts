import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Database, type Db } from '../platform/db.ts'
import { appendActs } from '../runs/ledger.ts'
import { lockCustomers, readClock } from '../shop/index.ts'
import { markPeople, type Label } from './acts.ts'
import { TAGS } from './list.ts'

const labelRow = z.object({ name: z.string(), people: z.int() })

/** The lists or tags that people have, with how many have each, by name. */
export function labelsOf(
  db: Db,
  shopId: string,
  kind: 'list' | 'tag',
): Promise<z.infer<typeof labelRow>[]> {
  const names = kind === 'list' ? sql`c.lists` : TAGS
  return rowsOf(
    db,
    labelRow,
    sql`select name, count(*)::int as people
    from customers c, jsonb_array_elements_text(${names}) as name
    where c.shop_id = ${shopId} group by 1 order by 1`,
  )
}

/**
 * Puts a list or tag on many people at once, or takes it off, each with an entry of the ledger. People are named by id or
 * address. Returns for how many it changed something, and what nobody is known by.
 */
export async function labelMany(
  db: Database,
  shopId: string,
  { names, label, person }: { names: readonly string[]; label: Label; person: string },
): Promise<{ changed: number; unknown: string[] }> {
  const wanted = [...new Set(names.map((name) => name.trim()).filter((name) => name !== ''))]
  return db.transaction(async (tx) => {
    const found = await rowsOf(
      tx,
      z.object({ name: z.string(), id: z.string() }),
      sql`select distinct on (w.name) w.name, c.id from unnest(${arrayOf(wanted, 'text')}) as w(name)
      join customers c on c.shop_id = ${shopId} and (c.id = w.name or lower(c.email) = lower(w.name))
      order by w.name, c.as_of desc`,
    )
    const ids = [...new Set(found.map(({ id }) => id))]
    await lockCustomers(tx, shopId, ids)
    const changed = await markPeople(tx, shopId, ids, label)
    const { now } = await readClock(tx, shopId)
    const entry = { kind: 'acted', person, act: label } as const
    await appendActs(tx, shopId, now, changed.map((customerId) => ({ customerId, entry }))) // prettier-ignore
    const known = new Set(found.map(({ name }) => name))
    return { changed: changed.length, unknown: wanted.filter((name) => !known.has(name)) }
  })
}
