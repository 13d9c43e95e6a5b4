import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { messageResults, wayResults } from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { COUNTS } from '../earned.ts'
import { WAY } from '../way.ts'
import { factsOf, type Cohort } from './facts.ts'

/** Of which part of the time, and of which version; whether the window is over. */
const part = z.object({ span: z.int(), version: z.int(), isOver: z.boolean() })

const countedRow = messageResults.omit({ notSent: true, step: true }).extend({
  ...part.shape,
  /** Null for all messages together. */
  step: z.string().nullable(),
  code: z.string().nullable(),
  exclusion: z.string().nullable(),
})
/** What was counted of a message, of those to whom the same happened: it was sent, or was not for the same reason. */
export type CountedRow = z.infer<typeof countedRow>

const countedWay = wayResults.extend(part.shape)
export type CountedWay = z.infer<typeof countedWay>

/** Counts of a cohort by parts of the time, by message and why it was not sent, and by path and arm. */
export interface Counted {
  messages: CountedRow[]
  ways: CountedWay[]
}

/**
 * Counts the facts of a cohort once. The results and the numbers of the timetable are sums of these rows.
 */
export async function countFacts(db: Db, asked: Cohort): Promise<Counted> {
  const [row] = await rowsOf(
    db,
    z.object({ messages: z.array(countedRow), ways: z.array(countedWay) }),
    sql`${factsOf(asked)}, taken as (${takenIn(asked.shopId)}), last as (${lastOf(asked.shopId)})
    select
      (select coalesce(json_agg(m), '[]') from (${byMessage}) m) as messages,
      (select coalesce(json_agg(w), '[]') from (${byWay}) w) as ways`,
  )
  return row ?? { messages: [], ways: [] }
}

const byMessage = sql`select span, version, is_over as "isOver", step, code, exclusion,
      count(*) filter (where reached) as reached,
      count(*) filter (where sent) as sent,
      count(*) filter (where delivered) as delivered,
      count(*) filter (where delivered and opened) as opened,
      count(*) filter (where delivered and fetched) as fetched,
      count(*) filter (where delivered and clicked) as clicked,
      count(*) filter (where delivered and replied) as replied,
      count(*) filter (where unsubscribed) as unsubscribed,
      count(*) filter (where complained) as complained,
      count(distinct run_id) filter (where orders > 0) as ordered,
      coalesce(sum(orders), 0)::bigint as orders, coalesce(sum(revenue), 0)::bigint as "revenueMinor"
    from facts
    group by grouping sets ((span, version, is_over, step, code, exclusion), (span, version, is_over))`

/** Which ways each took, and when; everybody's way into the workflow has no step. */
const takenIn = (shopId: string): SQL => sql`
  select id as run_id, '' as step, null::text as branch, entered_at as at from cohort
  union all
  select cohort.id, way.* from cohort cross join lateral (
    select ledger.entry->>'step', ${WAY}, min(ledger.at) from ledger
    where ledger.shop_id = ${shopId} and ledger.run_id = cohort.id and ledger.at <= cohort.until
      and ledger.kind in ('tookBranch', 'tookArm', 'came')
    group by 1, 2
  ) way`

/**
 * When each last did what is counted of ways, within their days: who did it after a moment is who did it last
 * after it.
 */
const lastOf = (shopId: string): SQL => sql`
  select cohort.id as run_id, cohort.span, cohort.version, cohort.is_over, heard.*, bought.last_order
  from cohort
  left join (
    select run_id as of, max(sent_at) filter (where delivered) as delivered,
      max(sent_at) filter (where delivered and opened) as opened,
      max(sent_at) filter (where delivered and clicked) as clicked,
      max(sent_at) filter (where delivered and unsubscribed) as unsubscribed,
      max(sent_at) filter (where delivered and complained) as complained
    from facts group by run_id
  ) heard on heard.of = cohort.id
  left join (
    select cohort.id as of_run, max(orders.placed_at) as last_order
    from cohort join orders on orders.shop_id = ${shopId} and orders.customer_id = cohort.customer_id
      and orders.placed_at > cohort.entered_at and orders.placed_at <= cohort.until and ${COUNTS}
    join shops on shops.id = orders.shop_id and shops.currency = orders.currency
    group by 1
  ) bought on bought.of_run = cohort.id`

/** What each did from then on: with the messages that came after, and whether they ordered at all. */
const byWay = sql`select last.span, last.version, last.is_over as "isOver", taken.step, taken.branch,
    count(*) as people,
    count(*) filter (where last.delivered >= taken.at) as delivered,
    count(*) filter (where last.opened >= taken.at) as opened,
    count(*) filter (where last.clicked >= taken.at) as clicked,
    count(*) filter (where last.last_order > taken.at) as bought,
    count(*) filter (where last.unsubscribed >= taken.at) as unsubscribed,
    count(*) filter (where last.complained >= taken.at) as complained
  from taken join last on last.run_id = taken.run_id group by 1, 2, 3, 4, 5`

const FIGURES = ['reached', 'sent', 'delivered', 'opened', 'fetched', 'clicked', 'replied', 'unsubscribed', 'complained', 'ordered', 'orders', 'revenueMinor'] as const // prettier-ignore
export type Figures = Record<(typeof FIGURES)[number], number>

/** The figures of some rows together. */
export function summed(rows: readonly CountedRow[]): Figures {
  const sum = (key: (typeof FIGURES)[number]) => rows.reduce((all, row) => all + row[key], 0)
  return Object.fromEntries(FIGURES.map((key) => [key, sum(key)])) as Figures
}

/** The messages that rows are of, in the order they come. */
export const stepsIn = (rows: readonly CountedRow[]): string[] => [
  ...new Set(rows.flatMap(({ step }) => step ?? [])),
]
