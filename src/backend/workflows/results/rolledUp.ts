import { and, eq, gte, lt, sql } from 'drizzle-orm'
import { localDays } from '../../../core/shared/localTime.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { countingDays } from '../../changes/index.ts'
import { recordsOf, type Db } from '../../platform/db.ts'
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

/**
 * The same counts as from scratch, of which only those days are counted that nothing is kept of; these are kept.
 * In a transaction that may write, after `forgetChanged`.
 */
export async function countRolledUp(db: Db, zone: string, asked: Cohort): Promise<Counts> {
  // Who took a path is not counted by days: it is asked seldom, and there are many.
  if (asked.way) return countFromScratch(db, asked)
  await countingDays(db, asked.shopId)
  const { from, to, version } = asked
  const days = daysOf(asked, zone)
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

/** The days that a time touches, in its bounds, each with what is kept of it; null where it would have to be counted. */
export async function keptCounts(
  db: Db,
  zone: string,
  asked: Cohort,
): Promise<(Span & { counts: Counts | null })[]> {
  const days = daysOf(asked, zone)
  const kept = await keptDays(db, asked, days.filter((day) => isWhole(day, asked))) // prettier-ignore
  return days.map((day) => ({
    from: Math.max(day.from, asked.from),
    to: Math.min(day.to, asked.to),
    counts: kept.get(day.from) ?? null,
  }))
}

async function countSpans(db: Db, asked: Cohort): Promise<Counts> {
  return { ...(await countFacts(db, asked)), ...(await readWays(db, asked)) }
}

/** Nobody looks further back day by day. */
const MOST_DAYS = 3660

/** The days of a cohort, up to the present; whatever is longer ago than anybody looks as one time before them. */
function daysOf({ from, to, now }: Cohort, zone: string): Span[] {
  const oldest = now - MOST_DAYS * DAY_MS
  const days = localDays(Math.max(from, oldest), Math.min(to, now + 1), zone)
  return from < oldest ? [{ from, to: days[0]?.from ?? Math.min(to, now + 1) }, ...days] : days
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
