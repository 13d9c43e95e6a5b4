import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { WorkflowNumbersResponse } from '../../../contract/workflows.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { COUNTS, countingOrders } from '../earned.ts'
import { noNumbers } from '../numbers.ts'
import { WAY } from '../way.ts'
import { stepsIn, summed, type CountedRow } from './counted.ts'
import { cohortOf, type Cohort } from './facts.ts'

/** Of which part of the time, and of which version; whether the window is over. */
const part = z.object({ span: z.int(), version: z.int(), isOver: z.boolean() })

const ledgerRow = part.extend({
  kind: z.string(),
  step: z.string().nullable(),
  branch: z.string().nullable(),
  count: z.number(),
})
const waitingRow = z.object({ isOver: z.boolean(), step: z.string(), count: z.int() })
const enteredRow = part.extend({ entered: z.int() })
const earnedRow = part.extend({
  step: z.string(),
  branch: z.string().nullable(),
  orders: z.int(),
  revenueMinor: z.int(),
})

/** How a cohort went through its workflow, beside its messages. */
export interface Ways {
  entered: z.infer<typeof enteredRow>[]
  ledger: z.infer<typeof ledgerRow>[]
  earned: z.infer<typeof earnedRow>[]
}

/** Where those of a cohort are who are on their way. */
export type Waiting = z.infer<typeof waitingRow>[]

/** How many entered, which ways they took, and what those of each way ordered for a message. */
export async function readWays(db: Db, asked: Cohort): Promise<Ways> {
  const { shopId } = asked
  const entered = await rowsOf(
    db,
    enteredRow,
    sql`${cohortOf(asked)} select span, version, is_over as "isOver", count(*) as entered
    from cohort group by 1, 2, 3`,
  )
  const ledger = await rowsOf(
    db,
    ledgerRow,
    sql`${cohortOf(asked)} select cohort.span, cohort.version, cohort.is_over as "isOver", own.kind,
      own.step, own.branch, sum(own.count)::int as count
    from cohort cross join lateral (
      select ledger.kind, ledger.entry->>'step' as step, ${WAY} as branch, count(*) as count from ledger
      where ledger.shop_id = ${shopId} and ledger.run_id = cohort.id and ledger.at <= cohort.until
        and ledger.kind in ('entered', 'tookBranch', 'tookArm', 'came', 'left', 'issues', 'marks')
      group by 1, 2, 3
    ) own group by 1, 2, 3, 4, 5, 6`,
  )
  return { entered, ledger, earned: await earnedByWay(db, asked) }
}

/** Where they wait is of now, and not of their days. */
export function readWaiting(db: Db, asked: Cohort): Promise<Waiting> {
  return rowsOf(
    db,
    waitingRow,
    sql`${cohortOf(asked)} select cohort.is_over as "isOver", runs.step, count(*) as count from cohort
    join runs on runs.shop_id = ${asked.shopId} and runs.id = cohort.id and runs.status = 'inProgress'
    where runs.step is not null group by 1, 2`,
  )
}

/** The orders that count for any message of those who took a path, after they took it. */
function earnedByWay(db: Db, asked: Cohort) {
  const { shopId } = asked
  return rowsOf(
    db,
    earnedRow,
    sql`${cohortOf(asked)} select touched.span, touched.version, touched.is_over as "isOver", way.step,
      way.branch, count(*) as orders, sum(touched.total_minor)::bigint as "revenueMinor"
    from (select cohort.span, cohort.version, cohort.is_over, orders.total_minor, orders.placed_at,
        touch.run_id ${countingOrders()}
      join cohort on cohort.id = touch.run_id and orders.placed_at <= cohort.until
      where orders.shop_id = ${shopId} and ${COUNTS}
        and orders.customer_id in (select customer_id from cohort)) touched
    cross join lateral (
      select distinct ledger.entry->>'step' as step, ${WAY} as branch from ledger
      where ledger.shop_id = ${shopId} and ledger.run_id = touched.run_id
        and ledger.kind in ('tookBranch', 'tookArm', 'came') and ledger.at <= touched.placed_at
    ) way group by 1, 2, 3, 4, 5`,
  )
}

/**
 * What the timetable shows at each stop, of a cohort: of its messages sums of the very rows that the table counts.
 * Those whose window is not over are left out unless `isWithOpen`.
 */
export function numbersIn(
  rows: readonly CountedRow[],
  ways: Pick<Ways, 'ledger' | 'earned'> & { waiting: Waiting },
  isWithOpen: boolean,
): WorkflowNumbersResponse {
  const counted = <Row extends { isOver: boolean }>(all: readonly Row[]): Row[] =>
    all.filter(({ isOver }) => isWithOpen || isOver)
  const [messages, ledger, waiting] = [counted(rows), counted(ways.ledger), counted(ways.waiting)]
  const count = (of: readonly { step: string | null; count: number }[], step?: string): number =>
    of.filter((row) => step === undefined || row.step === step).reduce((sum, row) => sum + row.count, 0) // prettier-ignore
  const ofKind = (kind: string) => ledger.filter((row) => row.kind === kind)
  const keys = new Set([...stepsIn(messages), ...[...waiting, ...ledger].flatMap(({ step }) => step ?? [])]) // prettier-ignore
  return {
    total: { ...noNumbers(), entered: count(ofKind('entered')), inProgress: count(waiting), left: count(ofKind('left')) }, // prettier-ignore
    steps: [...keys].map((step) => {
      const own = messages.filter((row) => row.step === step)
      const left = summed(own.filter(({ code }) => code === 'left')).reached
      const unsent = summed(own.filter(({ code }) => code !== null)).reached
      return {
        step,
        waiting: count(waiting, step),
        sent: summed(own).sent,
        skipped: unsent - left,
        left: own.length > 0 ? left : count(ofKind('left'), step),
        failed: 0,
        done: count(ofKind('issues'), step) + count(ofKind('marks'), step),
      }
    }),
    branches: together([...ofKind('tookBranch'), ...ofKind('tookArm'), ...ofKind('came')]),
    earned: {
      steps: stepsIn(messages).map((step) => {
        const { orders, revenueMinor } = summed(messages.filter((row) => row.step === step))
        return { step, orders, revenueMinor }
      }),
      branches: earnedTogether(counted(ways.earned)),
    },
    exclusions: [],
    onOlderVersions: 0,
  }
}

const wayOf = ({ step, branch }: { step: string | null; branch: string | null }): string =>
  JSON.stringify([step, branch])

/** Each way once: of those whose window is over, and of the others. */
function together(rows: Ways['ledger']): WorkflowNumbersResponse['branches'] {
  const ways = new Map<string, WorkflowNumbersResponse['branches'][number]>()
  for (const row of rows) {
    const known = ways.get(wayOf(row))
    ways.set(wayOf(row), { step: row.step ?? '', branch: row.branch, taken: row.count + (known?.taken ?? 0) }) // prettier-ignore
  }
  return [...ways.values()]
}

function earnedTogether(rows: Ways['earned']): WorkflowNumbersResponse['earned']['branches'] {
  const ways = new Map<string, WorkflowNumbersResponse['earned']['branches'][number]>()
  for (const row of rows) {
    const known = ways.get(wayOf(row))
    ways.set(wayOf(row), {
      step: row.step,
      branch: row.branch,
      orders: row.orders + (known?.orders ?? 0),
      revenueMinor: row.revenueMinor + (known?.revenueMinor ?? 0),
    })
  }
  return [...ways.values()]
}
