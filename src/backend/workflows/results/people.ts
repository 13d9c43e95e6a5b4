import { sql, type SQL } from 'drizzle-orm'
import { resultPerson, type PeopleMeasure, type ResultPerson } from '../../../contract/results.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { cohortOf, factsOf, type Cohort } from './facts.ts'

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

/** The newest so many days are looked through first, then each time as many again. */
const FIRST_DAYS = 14

/**
 * The people behind a figure of the results, those who entered last first: a list of the very rows that the figure
 * counts. The time is gone through from its end, for as long as it takes to find them.
 */
export async function peopleBehind(db: Db, asked: Cohort, behind: Behind): Promise<ResultPerson[]> {
  const people: ResultPerson[] = []
  let [to, days] = [asked.to, FIRST_DAYS]
  while (to > asked.from && people.length < behind.most) {
    const from = Math.max(asked.from, to - days * DAY_MS)
    const most = behind.most - people.length
    people.push(...(await peopleIn(db, { ...asked, from, to }, { ...behind, most })))
    ;[to, days] = [from, days * 2]
  }
  return people
}

function peopleIn(
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
