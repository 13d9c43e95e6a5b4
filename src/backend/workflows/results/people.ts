import { sql, type SQL } from 'drizzle-orm'
import { resultPerson, type PeopleMeasure, type ResultPerson } from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import type { Counts } from './dayCounts.ts'
import { cohortOf, factsOf, type Cohort, type Span } from './facts.ts'
import { keptCounts } from './rolledUp.ts'

/** What of a way through a workflow is counted by each measure. */
const COUNTED: Readonly<Record<Exclude<PeopleMeasure, 'entered'>, SQL>> = {
  reached: sql`reached`,
  sent: sql`sent`,
  delivered: sql`delivered`,
  opened: sql`delivered and opened`,
  fetched: sql`delivered and fetched`,
  clicked: sql`delivered and clicked`,
  ordered: sql`orders > 0`,
  replied: sql`delivered and replied`,
  unsubscribed: sql`unsubscribed`,
  complained: sql`complained`,
  notSent: sql`code is not null`,
}

interface Behind {
  measure: PeopleMeasure
  /** The message; all together where none is named. */
  step?: string | undefined
  /** Those too whose window is not over. */
  isWithOpen: boolean
  /** Why it was not sent. */
  code?: string | undefined
  exclusion?: string | undefined
  most: number
}

/**
 * The people behind a figure of the results, those who entered last first: a list of the very rows that the figure
 * counts.
 */
export function peopleBehind(
  db: Db,
  asked: Cohort,
  { measure, step, isWithOpen, code, exclusion, most }: Behind,
): Promise<ResultPerson[]> {
  const over = isWithOpen ? sql`true` : sql`f.is_over`
  const wanted =
    measure === 'entered'
      ? sql`${cohortOf(asked)} select id as run_id, customer_id, entered_at, null::bigint as sent_at,
          null::bigint as revenue from cohort f where ${over}`
      : sql`${factsOf(asked, step)} select run_id, customer_id, entered_at, min(sent_at) as sent_at,
          sum(revenue) as revenue from facts f
        where ${over} and (${COUNTED[measure]})
          ${code === undefined ? sql`` : sql`and code = ${code}`}
          ${exclusion === undefined ? sql`` : sql`and exclusion = ${exclusion}`}
        group by 1, 2, 3`
  return rowsOf(
    db,
    resultPerson,
    sql`select w.run_id as "runId", w.customer_id as "customerId", w.entered_at as "enteredAt",
      w.sent_at as "sentAt", coalesce(w.revenue, 0)::bigint as "revenueMinor",
      nullif(concat_ws(' ', c.first_name, c.last_name), '') as name, c.email
    from (${wanted}) w
    left join customers c on c.shop_id = ${asked.shopId} and c.id = w.customer_id
    order by w.entered_at desc, w.run_id desc limit ${most}`,
  )
}

/**
 * The parts of a time that may hold the last of those people, by what is kept of its days: those of which it is kept that nobody
 * is behind the figure are left out. None are when only those who took a path are asked for.
 */
export async function daysHolding(
  db: Db,
  zone: string,
  asked: Cohort,
  behind: Behind,
): Promise<Span[] | undefined> {
  if (asked.way) return undefined
  const spans: Span[] = []
  let found = 0
  for (const { from, to, counts } of (await keptCounts(db, zone, asked)).toReversed()) {
    const people = counts === null ? 0 : countIn(counts, asked, behind)
    if (counts === null || people > 0) spans.push({ from, to })
    found += people
    if (found >= behind.most) break
  }
  return spans
}

/** How many are behind the figure on a day; more than there are where somebody got several messages. */
function countIn(counts: Counts, { version }: Cohort, behind: Behind): number {
  const { measure, step, isWithOpen, code, exclusion } = behind
  const isAsked = (row: { isOver: boolean; version: number }): boolean =>
    (isWithOpen || row.isOver) && (version === undefined || row.version === version)
  if (measure === 'entered') {
    return counts.entered.filter(isAsked).reduce((sum, { entered }) => sum + entered, 0)
  }
  return counts.messages
    .filter(isAsked)
    .filter((row) => row.step !== null && (step === undefined || row.step === step))
    .filter((row) => code === undefined || row.code === code)
    .filter((row) => exclusion === undefined || row.exclusion === exclusion)
    .reduce((sum, row) => sum + (measure === 'notSent' ? unsent(row) : row[measure]), 0)
}

const unsent = ({ code, reached }: Counts['messages'][number]): number =>
  code === null ? 0 : reached
