import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { messageResults, wayResults } from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { COUNTS } from '../earned.ts'
import { WAY } from '../way.ts'
import { factsOf, type Cohort } from './facts.ts'

const countedRow = messageResults.omit({ notSent: true, step: true }).extend({
  isOver: z.boolean(),
  /** Null for all messages together. */
  step: z.string().nullable(),
  code: z.string().nullable(),
  exclusion: z.string().nullable(),
})
/** What was counted of a message, of those to whom the same happened: it was sent, or was not for the same reason. */
export type CountedRow = z.infer<typeof countedRow>

const countedWay = wayResults.extend({ isOver: z.boolean() })
export type CountedWay = z.infer<typeof countedWay>

/**
 * Counts the facts of a cohort once, by message and by why it was not sent, and by path and arm; those whose window
 * is over apart. The results and the numbers of the timetable are sums of these rows.
 */
export async function countFacts(
  db: Db,
  asked: Cohort,
): Promise<{ messages: CountedRow[]; ways: CountedWay[] }> {
  const [row] = await rowsOf(
    db,
    z.object({ messages: z.array(countedRow), ways: z.array(countedWay) }),
    sql`${factsOf(asked)}, taken as (${takenIn(asked.shopId)})
    select
      (select coalesce(json_agg(m), '[]') from (${byMessage}) m) as messages,
      (select coalesce(json_agg(w), '[]') from (${byWay(asked.shopId)}) w) as ways`,
  )
  return row ?? { messages: [], ways: [] }
}

const byMessage = sql`select is_over as "isOver", step, code, exclusion,
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
    from facts group by grouping sets ((is_over, step, code, exclusion), (is_over))`

/** Which ways each took, and when; everybody's way into the workflow has no step. */
const takenIn = (shopId: string): SQL => sql`
  select id as run_id, customer_id, is_over, until, '' as step, null::text as branch, entered_at as at
  from cohort
  union all
  select cohort.id, cohort.customer_id, cohort.is_over, cohort.until, ledger.entry->>'step', ${WAY},
    min(ledger.at)
  from cohort join ledger on ledger.shop_id = ${shopId} and ledger.run_id = cohort.id
    and ledger.at <= cohort.until
  where ledger.kind in ('tookBranch', 'tookArm', 'came')
  group by 1, 2, 3, 4, 5, 6`

/** What each did from then on: with the messages that came after, and whether they ordered at all. */
const byWay = (shopId: string): SQL => sql`
  select is_over as "isOver", step, branch, count(*) as people,
    count(*) filter (where delivered) as delivered, count(*) filter (where opened) as opened,
    count(*) filter (where clicked) as clicked, count(*) filter (where bought) as bought,
    count(*) filter (where unsubscribed) as unsubscribed,
    count(*) filter (where complained) as complained
  from (
    select taken.run_id, taken.is_over, taken.step, taken.branch,
      coalesce(bool_or(f.delivered), false) as delivered,
      coalesce(bool_or(f.delivered and f.opened), false) as opened,
      coalesce(bool_or(f.delivered and f.clicked), false) as clicked,
      coalesce(bool_or(f.delivered and f.unsubscribed), false) as unsubscribed,
      coalesce(bool_or(f.delivered and f.complained), false) as complained,
      exists (select 1 from orders
        join shops on shops.id = orders.shop_id and shops.currency = orders.currency
        where orders.shop_id = ${shopId} and orders.customer_id = taken.customer_id and orders.placed_at > taken.at
        and orders.placed_at <= taken.until and ${COUNTS}) as bought
    from taken left join facts f on f.run_id = taken.run_id and f.sent_at >= taken.at
    group by taken.run_id, taken.is_over, taken.step, taken.branch, taken.customer_id, taken.at,
      taken.until
  ) each group by 1, 2, 3`

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
