import { sql } from 'drizzle-orm'
import { z } from 'zod'
import {
  messageResults,
  notSentReason,
  type CohortResults,
  type MessageResults,
} from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { cohortOf, factsOf, type Cohort } from './facts.ts'

/**
 * What came of those who entered a workflow in a time, message by message. What they did counts for as long
 * as their window goes, from the moment they entered; those whose window is over stand apart from those
 * for whom more may come. The measures are defined in docs/measures.md.
 */
export async function workflowResults(
  db: Db,
  asked: Cohort,
): Promise<{ over: CohortResults; open: CohortResults }> {
  const entered = await rowsOf(
    db,
    z.object({ isOver: z.boolean(), entered: z.number() }),
    sql`${cohortOf(asked)} select is_over as "isOver", count(*) as entered from cohort group by 1`,
  )
  // Of each message, and of all together where `step` is null.
  const messages = await rowsOf(
    db,
    messageRow,
    sql`${factsOf(asked)} select is_over as "isOver", step,
      count(*) filter (where reached) as reached,
      count(*) filter (where sent) as sent,
      count(*) filter (where delivered) as delivered,
      count(*) filter (where delivered and opened) as opened,
      count(*) filter (where delivered and fetched) as fetched,
      count(*) filter (where delivered and clicked) as clicked,
      count(*) filter (where unsubscribed) as unsubscribed,
      count(*) filter (where complained) as complained,
      count(distinct run_id) filter (where orders > 0) as ordered,
      coalesce(sum(orders), 0)::bigint as orders, coalesce(sum(revenue), 0)::bigint as "revenueMinor"
    from facts group by grouping sets ((is_over, step), (is_over))`,
  )
  const reasons = await rowsOf(
    db,
    reasonRow,
    sql`${factsOf(asked)} select is_over as "isOver", step, code, exclusion, count(*) as count
    from facts where code is not null group by 1, 2, 3, 4 order by 5 desc`,
  )
  const of = (isOver: boolean): CohortResults => {
    const mine = messages.filter((row) => row.isOver === isOver)
    const all = mine.find(({ step }) => step === null)
    return {
      entered: entered.find((row) => row.isOver === isOver)?.entered ?? 0,
      ordered: all?.ordered ?? 0,
      orders: all?.orders ?? 0,
      revenueMinor: all?.revenueMinor ?? 0,
      messages: mine.flatMap(({ step, isOver: _isOver, ...row }): MessageResults[] =>
        step === null ? [] : [{ ...row, step, notSent: reasonsFor(reasons, isOver, step) }],
      ),
    }
  }
  return { over: of(true), open: of(false) }
}

const messageRow = messageResults
  .omit({ notSent: true })
  .extend({ isOver: z.boolean(), step: z.string().nullable() })

const reasonRow = notSentReason.extend({ isOver: z.boolean(), step: z.string() })
type ReasonRow = z.infer<typeof reasonRow>

const reasonsFor = (reasons: readonly ReasonRow[], isOver: boolean, step: string) =>
  reasons
    .filter((row) => row.isOver === isOver && row.step === step)
    .map(({ code, exclusion, count }) => ({ code, exclusion, count }))
