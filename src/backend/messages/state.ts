import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'

const state = z.object({
  waiting: z.int(),
  held: z.int(),
  failed: z.int(),
  unsure: z.int(),
  lastSentAt: z.int().nullable(),
})

/** How many messages of a shop have not left, by how they stand, and when the last one did. */
export async function messageState(db: Db, shopId: string): Promise<z.infer<typeof state>> {
  const [row] = await rowsOf(db, state, sql`
    select (count(*) filter (where status in ('queued', 'handingOver')))::int as waiting,
      (count(*) filter (where status = 'held'))::int as held,
      (count(*) filter (where status = 'failed'))::int as failed,
      (count(*) filter (where status = 'unsure'))::int as unsure,
      (select sent_at from messages where shop_id = ${shopId} and status = 'sent' order by id desc limit 1)::float8 as "lastSentAt"
    from messages where shop_id = ${shopId} and status in ('queued', 'held', 'handingOver', 'failed', 'unsure')`) // prettier-ignore
  if (!row) throw new Error('The state of messages cannot be read')
  return row
}
