import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { messageResults } from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
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

/**
 * Counts the facts of a cohort once, by message and by why it was not sent; those whose window is over apart. The
 * results and the numbers of the timetable are sums of these rows.
 */
export function countFacts(db: Db, asked: Cohort): Promise<CountedRow[]> {
  return rowsOf(
    db,
    countedRow,
    sql`${factsOf(asked)} select is_over as "isOver", step, code, exclusion,
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
    from facts group by grouping sets ((is_over, step, code, exclusion), (is_over))`,
  )
}

const FIGURES = ['reached', 'sent', 'delivered', 'opened', 'fetched', 'clicked', 'unsubscribed', 'complained', 'ordered', 'orders', 'revenueMinor'] as const // prettier-ignore
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
