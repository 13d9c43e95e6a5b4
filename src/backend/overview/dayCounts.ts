import { and, eq, gte, lt, sql } from 'drizzle-orm'
import { z } from 'zod'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { grouped } from '../../core/shared/grouped.ts'
import type { Instant } from '../../core/shared/time.ts'
import { countingDays } from '../changes/index.ts'
import { arrayOf, recordsOf, rowsOf, type Db } from '../platform/db.ts'
import { dayCount, type DayCount } from './dayCount.ts'
import { sendingDays } from './tables.ts'

interface Day {
  from: Instant
  to: Instant
}

/**
 * What happened on each of some days that follow each other. Those that are over are kept: in a transaction that
 * may write, after what has changed was forgotten.
 */
export async function dayCounts(
  db: Db,
  shopId: string,
  days: readonly Day[],
  now: Instant,
): Promise<{ day: Instant; counts: DayCount[] }[]> {
  await countingDays(db, shopId)
  const kept = await keptDays(db, shopId, days)
  const missing = days.filter(({ from }) => !kept.has(from))
  const counted = await countDays(db, shopId, days, missing)
  await keepDays(db, shopId, missing.filter(({ to }) => to <= now), counted) // prettier-ignore
  return days.map(({ from }) => ({ day: from, counts: kept.get(from) ?? counted.get(from) ?? [] }))
}

async function keptDays(
  db: Db,
  shopId: string,
  days: readonly Day[],
): Promise<Map<Instant, DayCount[]>> {
  const [first, last] = [days[0], days.at(-1)]
  if (!first || !last) return new Map()
  const rows = await db
    .select({ day: sendingDays.day, until: sendingDays.until, counts: sendingDays.counts })
    .from(sendingDays)
    .where(
      and(
        eq(sendingDays.shopId, shopId),
        gte(sendingDays.day, first.from),
        lt(sendingDays.day, last.to),
      ),
    )
  const ends = new Map(days.map(({ from, to }) => [from, to]))
  return new Map(
    rows
      .filter(({ day, until }) => ends.get(day) === until)
      .map(({ day, counts }) => [day, counts]),
  )
}

async function countDays(
  db: Db,
  shopId: string,
  days: readonly Day[],
  missing: readonly Day[],
): Promise<Map<Instant, DayCount[]>> {
  if (missing.length === 0) return new Map()
  const starts = days.map(({ from }) => from)
  const places = arrayOf(starts, 'bigint')
  const from = arrayOf(missing.map((day) => day.from), 'bigint') // prettier-ignore
  const to = arrayOf(missing.map((day) => day.to), 'bigint') // prettier-ignore
  const rows = await rowsOf(
    db,
    dayCount.extend({ day: z.number() }),
    sql`select span.from as day, case ledger.kind when 'entered' then 'entered' when 'sent' then 'sent'
        else 'ended' end as what,
      ledger.workflow_id as "workflowId", (${places})[width_bucket(runs.entered_at, ${places})] as entered,
      coalesce(m.marketing, false) as marketing, count(*) as count
    from unnest(${from}, ${to}) as span("from", "to")
    join ledger on ledger.shop_id = ${shopId} and ledger.at >= span.from and ledger.at < span.to
      and ledger.kind in ('entered', 'ended', 'left', 'retired', 'sent', 'takenOut')
    join runs on runs.shop_id = ${shopId} and runs.id = ledger.run_id
    left join messages m on ledger.kind = 'sent' and m.shop_id = ${shopId} and m.run_id = ledger.run_id
      and m.step = ledger.entry->>'step'
    where ledger.kind <> 'sent' or m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})
    group by 1, 2, 3, 4, 5`,
  )
  const counts = rows.map(({ day, ...count }) => ({ day, count }))
  return new Map(
    [...grouped(counts, ({ day }) => day)].map(([day, own]) => [
      day,
      own.map(({ count }) => count),
    ]),
  )
}

async function keepDays(
  db: Db,
  shopId: string,
  days: readonly Day[],
  counted: ReadonlyMap<Instant, DayCount[]>,
): Promise<void> {
  if (days.length === 0) return
  const records = days.map(({ from, to }) => ({ day: from, until: to, counts: counted.get(from) ?? [] })) // prettier-ignore
  await db.execute(sql`
    insert into sending_days (shop_id, day, until, counts)
    select ${shopId}, d.day, d.until, d.counts
    from jsonb_to_recordset(${recordsOf(records)}) as d(day bigint, until bigint, counts jsonb)
    on conflict (shop_id, day) do update set until = excluded.until, counts = excluded.counts`)
}
