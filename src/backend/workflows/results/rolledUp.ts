import { and, eq, gte, lt, sql } from 'drizzle-orm'
import { nextLocalTime } from '../../../core/shared/localTime.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { recordsOf, type Database, type Db } from '../../platform/db.ts'
import { resultDays } from '../tables.ts'
import { readWays } from './cohortNumbers.ts'
import { countFacts } from './counted.ts'
import { countsFrom, storedOf, together, type Counts } from './dayCounts.ts'
import type { Cohort, Span } from './facts.ts'

/** Counts all there is of a cohort from ledger, messages, events and orders. */
export async function countFromScratch(db: Db, asked: Cohort): Promise<Counts> {
  const counted = await countFacts(db, asked)
  return together([{ ...counted, ...(await readWays(db, asked)) }])
}

/** Longer than any window whose results can be asked for. */
const LONGEST_WINDOW_DAYS = 366

/**
 * Forgets the days that what has happened since may change: those on which somebody entered to whom
 * something happened within their days. Nobody counts a day meanwhile, or it might be kept without what was seen to here.
 */
export async function forgetChanged(db: Database, shopId: string): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${LOCK + shopId}, 0))`)
    await tx.execute(sql`
      with gone as (
        delete from changes where shop_id = ${shopId} returning customer_id, at
      ), touched as (
        select runs.workflow_id, runs.entered_at, min(gone.at) as at
        from (select distinct customer_id, at from gone) gone
        join runs on runs.shop_id = ${shopId} and runs.customer_id = gone.customer_id
          and runs.entered_at <= gone.at
          and runs.entered_at >= gone.at - ${LONGEST_WINDOW_DAYS * DAY_MS}::bigint
        group by 1, 2
      )
      delete from result_days d using touched t
      where d.shop_id = ${shopId} and d.workflow_id = t.workflow_id
        and d.day <= t.entered_at and t.entered_at < d.until
        and t.at <= t.entered_at + d.window_days * ${DAY_MS}::bigint`)
  })
}

const LOCK = 'days counted of '

/**
 * The same counts as from scratch, of which only those days are counted that nothing is kept of; these are kept.
 * In a transaction that may write, after `forgetChanged`.
 */
export async function countRolledUp(db: Db, zone: string, asked: Cohort): Promise<Counts> {
  // Who took a path is not counted by days: it is asked seldom, and there are many.
  if (asked.way) return countFromScratch(db, asked)
  await db.execute(
    sql`select pg_advisory_xact_lock_shared(hashtextextended(${LOCK + asked.shopId}, 0))`,
  )
  const { from, to, version } = asked
  const days = localDays(from, to, zone)
  const whole = days.filter((day) => isWhole(day, asked))
  const kept = await keptDays(db, asked, whole)
  const missing = whole.filter((day) => !kept.has(day.from))
  const spans = days
    .filter((day) => !kept.has(day.from))
    .map((day) => ({ from: Math.max(day.from, from), to: Math.min(day.to, to) }))
  const scratch = await countSpans(db, { ...asked, version: undefined, spans })
  await keepDays(db, asked, missing, scratch)
  return together([...kept.values(), scratch], version)
}

async function countSpans(db: Db, asked: Cohort): Promise<Counts> {
  return { ...(await countFacts(db, asked)), ...(await readWays(db, asked)) }
}

/** The days of the shop that a time touches. */
function localDays(from: Instant, to: Instant, zone: string): Span[] {
  const days: Span[] = []
  let start = nextLocalTime(from - 2 * DAY_MS, '00:00', zone)
  while (start < to) {
    const next = nextLocalTime(start + 1, '00:00', zone)
    if (next > from) days.push({ from: start, to: next })
    start = next
  }
  return days
}

/** Lies in the time from beginning to end, and its window is over for all of it or for nobody. */
function isWhole(day: Span, { from, to, windowDays, now }: Cohort): boolean {
  const windowMs = windowDays * DAY_MS
  const isPartlyOver = day.from + windowMs <= now && now < day.to + windowMs
  return day.from >= from && day.to <= to && !isPartlyOver
}

async function keptDays(
  db: Db,
  { shopId, workflowId, windowDays, now }: Cohort,
  whole: readonly Span[],
): Promise<Map<Instant, Counts>> {
  const [first, last] = [whole[0], whole.at(-1)]
  if (!first || !last) return new Map()
  const rows = await db
    .select({ day: resultDays.day, until: resultDays.until, counts: resultDays.counts })
    .from(resultDays)
    .where(
      and(
        eq(resultDays.shopId, shopId),
        eq(resultDays.workflowId, workflowId),
        eq(resultDays.windowDays, windowDays),
        gte(resultDays.day, first.from),
        lt(resultDays.day, last.to),
      ),
    )
  // Where the shop has moved to another zone, days begin at other moments.
  const ends = new Map(whole.map((day) => [day.from, day.to]))
  const windowMs = windowDays * DAY_MS
  return new Map(
    rows
      .filter(({ day, until }) => ends.get(day) === until)
      .map(({ day, until, counts }) => [day, countsFrom(counts, day, until + windowMs <= now)]),
  )
}

async function keepDays(
  db: Db,
  { shopId, workflowId, windowDays }: Cohort,
  days: readonly Span[],
  counts: Counts,
): Promise<void> {
  if (days.length === 0) return
  const records = days.map((day) => ({ day: day.from, until: day.to, counts: storedOf(counts, day.from) })) // prettier-ignore
  await db.execute(sql`
    insert into result_days (shop_id, workflow_id, window_days, day, until, counts)
    select ${shopId}, ${workflowId}, ${windowDays}, d.day, d.until, d.counts
    from jsonb_to_recordset(${recordsOf(records)}) as d(day bigint, until bigint, counts jsonb)
    on conflict (shop_id, workflow_id, window_days, day)
      do update set until = excluded.until, counts = excluded.counts`)
}
