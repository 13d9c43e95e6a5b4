import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { WorkflowNumbersResponse } from '../../../contract/workflows.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { COUNTS, countingOrders } from '../earned.ts'
import { noNumbers } from '../numbers.ts'
import { WAY } from '../way.ts'
import { cohortOf, factsOf, type Cohort } from './facts.ts'

const ledgerRow = z.object({
  kind: z.string(),
  step: z.string().nullable(),
  branch: z.string().nullable(),
  exclusion: z.string().nullable(),
  count: z.number(),
})
const messageRow = z.object({
  step: z.string(),
  sent: z.int(),
  skipped: z.int(),
  left: z.int(),
  orders: z.int(),
  revenueMinor: z.int(),
})
type Way = WorkflowNumbersResponse['branches'][number]

/**
 * What the timetable shows at each stop, of a cohort: of its messages the very rows that the table counts. Those whose
 * window is not over are left out unless `isWithOpen`.
 */
export async function cohortNumbers(
  db: Db,
  asked: Cohort,
  isWithOpen: boolean,
): Promise<WorkflowNumbersResponse> {
  const { shopId } = asked
  const counted = isWithOpen ? sql`true` : sql`is_over`
  const messages = await rowsOf(
    db,
    messageRow,
    sql`${factsOf(asked)} select step, count(*) filter (where sent) as sent,
      count(*) filter (where code is not null and code <> 'left') as skipped,
      count(*) filter (where code = 'left') as left,
      coalesce(sum(orders), 0)::bigint as orders, coalesce(sum(revenue), 0)::bigint as "revenueMinor"
    from facts where ${counted} group by step`,
  )
  const ledger = await rowsOf(
    db,
    ledgerRow,
    sql`${cohortOf(asked)} select ledger.kind, ledger.entry->>'step' as step, ${WAY} as branch,
      ledger.entry->>'exclusion' as exclusion, count(*) as count
    from cohort join ledger on ledger.shop_id = ${shopId} and ledger.run_id = cohort.id
      and ledger.at <= cohort.until
    where ${counted} and ledger.kind in ('entered', 'tookBranch', 'tookArm', 'came', 'left', 'issues', 'marks')
    group by 1, 2, 3, 4`,
  )
  const waiting = await rowsOf(
    db,
    z.object({ step: z.string(), count: z.int() }),
    sql`${cohortOf(asked)} select runs.step, count(*) as count from cohort
    join runs on runs.shop_id = ${shopId} and runs.id = cohort.id and runs.status = 'inProgress'
    where ${counted} and runs.step is not null group by 1`,
  )
  const sum = (kind: string, step?: string): number =>
    ledger
      .filter((row) => row.kind === kind && (step === undefined || row.step === step))
      .reduce((all, row) => all + row.count, 0)
  const keys = new Set([...messages, ...waiting, ...ledger].flatMap(({ step }) => step ?? []))
  const ofMessage = (step: string) => messages.find((row) => row.step === step)
  const inProgress = waiting.reduce((all, { count }) => all + count, 0)
  return {
    total: { ...noNumbers(), entered: sum('entered'), inProgress, left: sum('left') },
    steps: [...keys].map((step) => ({
      step,
      waiting: waiting.find((row) => row.step === step)?.count ?? 0,
      sent: ofMessage(step)?.sent ?? 0,
      skipped: ofMessage(step)?.skipped ?? 0,
      left: ofMessage(step)?.left ?? sum('left', step),
      failed: 0,
      done: sum('issues', step) + sum('marks', step),
    })),
    branches: waysIn(ledger),
    earned: { steps: messages.filter(({ orders }) => orders > 0).map(({ step, orders, revenueMinor }) => ({ step, orders, revenueMinor })), branches: await earnedByWay(db, asked, isWithOpen) }, // prettier-ignore
    exclusions: [],
    onOlderVersions: 0,
  }
}

const waysIn = (ledger: readonly z.infer<typeof ledgerRow>[]): Way[] =>
  ledger
    .filter(({ kind }) => kind === 'tookBranch' || kind === 'tookArm' || kind === 'came')
    .map(({ step, branch, count }) => ({ step: step ?? '', branch, taken: count }))

/** The orders that count for any message of those who took a path, after they took it. */
function earnedByWay(db: Db, asked: Cohort, isWithOpen: boolean) {
  const { shopId } = asked
  return rowsOf(
    db,
    z.object({ step: z.string(), branch: z.string().nullable(), orders: z.int(), revenueMinor: z.int() }), // prettier-ignore
    sql`${cohortOf(asked)} select way.step, way.branch, count(*) as orders,
      sum(touched.total_minor)::bigint as "revenueMinor"
    from (select orders.total_minor, orders.placed_at, touch.run_id ${countingOrders()}
      join cohort on cohort.id = touch.run_id and orders.placed_at <= cohort.until
        and ${isWithOpen ? sql`true` : sql`cohort.is_over`}
      where orders.shop_id = ${shopId} and ${COUNTS}
        and orders.customer_id in (select customer_id from cohort)) touched
    cross join lateral (
      select distinct ledger.entry->>'step' as step, ${WAY} as branch from ledger
      where ledger.shop_id = ${shopId} and ledger.run_id = touched.run_id
        and ledger.kind in ('tookBranch', 'tookArm', 'came') and ledger.at <= touched.placed_at
    ) way group by 1, 2`,
  )
}
