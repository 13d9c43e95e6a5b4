import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { DAY_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { realNow } from '../platform/realTime.ts'

export type Round = 'count' | 'watch'

/** How often a shop's turn comes at most; and what makes it a turn at all. */
const ROUNDS: Readonly<Record<Round, { everyMs: number; when: (now: number) => SQL }>> = {
  // Something has changed, or what is to be thrown away once a day is due.
  count: {
    everyMs: MINUTE_MS,
    when: (now) => sql`(exists (select from changes c where c.shop_id = s.id) or s.retained_at is null or coalesce(r.at, 0) < ${now - DAY_MS}::bigint)`, // prettier-ignore
  },
  watch: { everyMs: 5 * MINUTE_MS, when: () => sql`true` },
}

/** So many shops are claimed at a time: what a worker has claimed and does not come to waits for a whole round. */
const AT_ONCE = 10

/** Shops whose turn it is, those first that have waited longest. Each turn is given to one worker only. */
export async function claimRound(db: Db, kind: Round): Promise<string[]> {
  const now = realNow()
  const { everyMs, when } = ROUNDS[kind]
  const before = now - everyMs
  const rows = await rowsOf(db, z.object({ id: z.string() }), sql`
    insert into shop_rounds as mine (shop_id, kind, at)
    select s.id, ${kind}, ${now}::bigint from shops s left join shop_rounds r on r.shop_id = s.id and r.kind = ${kind}
    where coalesce(r.at, 0) < ${before}::bigint and ${when(now)}
    order by coalesce(r.at, 0), s.id limit ${AT_ONCE}
    -- Another worker may have claimed it in the meantime.
    on conflict (shop_id, kind) do update set at = excluded.at where mine.at < ${before}::bigint
    returning shop_id as id`) // prettier-ignore
  return rows.map(({ id }) => id)
}
