import { asc, and, eq, sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { armReport, type ArmReport, type ExperimentReport } from '../../contract/experiments.ts'
import {
  testPeriods,
  type PublishedVersion,
  type TestPeriod,
} from '../../core/experiments/period.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import { USUAL_PLAN } from '../../core/workflow/testPlan.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import { COUNTS, countingOrders } from './earned.ts'
import { workflowVersions } from './tables.ts'

interface Asked {
  shopId: string
  workflowId: string
  now: Instant
}

/** How far back traffic is looked at. */
const TRAFFIC_DAYS = 28

/**
 * What the experiments of a workflow have come to, by period: the one that goes on, or was last, of each first.
 * Everybody drawn counts for their arm from the moment of their first draw in the period, in a window of the
 * same length, whatever they got (intention to treat).
 */
export async function workflowExperiments(
  db: Db,
  asked: Asked,
): Promise<{ reports: ExperimentReport[]; earlier: ExperimentReport[] }> {
  const versions = await publishedVersions(db, asked)
  const keys = experimentKeys(versions)
  const cutMinor = await dearestOrders(db, asked)
  const reports: ExperimentReport[] = []
  const earlier: ExperimentReport[] = []
  for (const key of keys) {
    const [newest, ...others] = testPeriods(versions, key)
    if (newest) reports.push(await reportOf(db, asked, newest, cutMinor))
    for (const period of others) earlier.push(await reportOf(db, asked, period, cutMinor))
  }
  return { reports, earlier: earlier.filter(({ arms }) => arms.some(({ drawn }) => drawn > 0)) }
}

async function publishedVersions(
  db: Db,
  { shopId, workflowId }: Asked,
): Promise<PublishedVersion[]> {
  const { version, publishedAt, definition } = workflowVersions
  return db
    .select({ version, publishedAt, definition })
    .from(workflowVersions)
    .where(and(eq(workflowVersions.shopId, shopId), eq(workflowVersions.workflowId, workflowId)))
    .orderBy(asc(version))
}

/** Of all versions: those of the newest in their place, then those that are gone. */
function experimentKeys(versions: readonly PublishedVersion[]): string[] {
  const keys = versions
    .toReversed()
    .flatMap(({ definition }) => allSteps(definition.steps))
    .flatMap((step) => (step.kind === 'experiment' ? [step.key] : []))
  return [...new Set(keys)]
}

/** Above this one order would outweigh a hundred others: the 99th percentile of the shop's last year. */
async function dearestOrders(db: Db, { shopId, now }: Asked): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ cut: z.number().nullable() }),
    sql`select percentile_disc(0.99) within group (order by total_minor) as cut
    from orders join shops on shops.id = orders.shop_id and shops.currency = orders.currency
    where orders.shop_id = ${shopId} and placed_at >= ${now - 365 * DAY_MS}::bigint and ${COUNTS}`,
  )
  return row?.cut ?? 0
}

async function reportOf(
  db: Db,
  asked: Asked,
  { step, versions, from, until }: TestPeriod,
  cutMinor: number,
): Promise<ExperimentReport> {
  const plan = step.plan ?? USUAL_PLAN
  const drawn = drawnIn(asked, step.key, versions, plan.windowDays)
  const counted = await countArms(db, asked, drawn, cutMinor)
  const trafficFrom = Math.max(from, asked.now - TRAFFIC_DAYS * DAY_MS)
  const recent = await recentDraws(db, drawn, trafficFrom)
  const days = Math.max(1, ((until ?? asked.now) - trafficFrom) / DAY_MS)
  return {
    step: step.key,
    name: step.name,
    plan,
    isUnplanned: step.plan === undefined,
    versions,
    from,
    until,
    now: asked.now,
    perDay: until === null ? recent / days : 0,
    cutMinor,
    attributedMinor: await attributed(db, asked, drawn),
    arms: step.arms.map(({ key, name, weight, holdout = false }) => ({
      ...(counted.find((one) => one.arm === key) ?? NOBODY),
      key,
      name,
      weight,
      holdout,
    })),
    touching: await touching(db, asked, drawn, step.key),
  }
}

/** Everybody's first draw in the period, with the end of their window. */
function drawnIn(
  { shopId, workflowId, now }: Asked,
  step: string,
  versions: readonly number[],
  windowDays: number,
): SQL {
  const windowMs = windowDays * DAY_MS
  return sql`with drawn as materialized (
    select distinct on (customer_id) customer_id, run_id, at, entry->>'arm' as arm,
      entry->'roll' as roll,
      at + ${windowMs}::bigint as until, at + ${windowMs}::bigint <= ${now}::bigint as is_over
    from ledger
    where shop_id = ${shopId} and workflow_id = ${workflowId} and kind = 'tookArm'
      and entry->>'step' = ${step} and version = any(${arrayOf(versions, 'int')})
    order by customer_id, id
  )`
}

const countedArm = armReport.omit({ key: true, name: true, weight: true, holdout: true })
const armRow = countedArm.extend({ arm: z.string() })
type ArmRow = z.infer<typeof armRow>

function countArms(db: Db, { shopId }: Asked, drawn: SQL, cutMinor: number): Promise<ArmRow[]> {
  const told = (type: string) => sql`exists (select 1 from events
    where events.shop_id = ${shopId} and events.customer_id = drawn.customer_id
      and events.type = ${type} and events.time > drawn.at and events.time <= drawn.until)`
  return rowsOf(
    db,
    armRow,
    sql`${drawn}, bought as (
      select drawn.customer_id, count(*) as orders, sum(orders.total_minor) as uncut,
        sum(least(orders.total_minor, ${cutMinor}::bigint)) as spent
      from drawn
      join orders on orders.shop_id = ${shopId} and orders.customer_id = drawn.customer_id
        and orders.placed_at > drawn.at and orders.placed_at <= drawn.until and ${COUNTS}
      join shops on shops.id = orders.shop_id and shops.currency = orders.currency
      group by 1
    ), each as (
      select drawn.arm, drawn.is_over, coalesce(bought.orders, 0) as orders,
        coalesce(bought.spent, 0) as spent, coalesce(bought.uncut, 0) as uncut,
        exists (select 1 from messages m where m.shop_id = ${shopId} and m.run_id = drawn.run_id
          and m.decided_at >= drawn.at and m.clicked_at <= drawn.until) as clicked,
        ${told('review.submitted')} as reviewed,
        ${told('message.unsubscribed')} or ${told('message.complained')} as unsubscribed
      from drawn left join bought on bought.customer_id = drawn.customer_id
    )
    select arm, count(*) as drawn,
      count(*) filter (where is_over) as people,
      count(*) filter (where is_over and orders > 0) as ordered,
      coalesce(sum(orders) filter (where is_over), 0)::bigint as orders,
      coalesce(sum(spent) filter (where is_over), 0)::float8 as "revenueMinor",
      coalesce(sum(spent::float8 * spent::float8) filter (where is_over), 0) as "revenueSquares",
      coalesce(sum(uncut) filter (where is_over), 0)::bigint as "uncutMinor",
      count(*) filter (where is_over and clicked) as clicked,
      count(*) filter (where is_over and reviewed) as reviewed,
      count(*) filter (where is_over and unsubscribed) as unsubscribed
    from each group by arm`,
  )
}

async function recentDraws(db: Db, drawn: SQL, from: Instant): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ people: z.number() }),
    sql`${drawn} select count(*) as people from drawn where at >= ${from}::bigint`,
  )
  return row?.people ?? 0
}

/** What is attributed to the messages of those drawn, last touch as everywhere, in their windows. */
async function attributed(db: Db, { shopId, workflowId }: Asked, drawn: SQL): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ revenue: z.number() }),
    sql`${drawn} select coalesce(sum(orders.total_minor), 0)::bigint as revenue
    ${countingOrders()}
    join drawn on drawn.customer_id = orders.customer_id and drawn.is_over
      and orders.placed_at > drawn.at and orders.placed_at <= drawn.until
    where orders.shop_id = ${shopId} and ${COUNTS} and touch.workflow_id = ${workflowId}`,
  )
  return row?.revenue ?? 0
}

/** Other experiments that the same people were drawn into in the same time: each may move the other. */
function touching(
  db: Db,
  { shopId, workflowId }: Asked,
  drawn: SQL,
  step: string,
): Promise<ExperimentReport['touching']> {
  return rowsOf(
    db,
    z.object({
      workflowId: z.string(),
      step: z.string(),
      people: z.int(),
      isSameDraw: z.boolean(),
    }),
    // By one draw everybody has the same number in both.
    sql`${drawn} select l.workflow_id as "workflowId", l.entry->>'step' as step,
      count(distinct l.customer_id) as people,
      bool_and(l.entry->'roll' = drawn.roll) as "isSameDraw"
    from drawn
    join ledger l on l.shop_id = ${shopId} and l.customer_id = drawn.customer_id
      and l.kind = 'tookArm' and l.at between drawn.at - (drawn.until - drawn.at) and drawn.until
    where (l.workflow_id, l.entry->>'step') <> (${workflowId}, ${step})
    group by 1, 2 order by 3 desc`,
  )
}

const NOBODY: Omit<ArmReport, 'key' | 'name' | 'weight' | 'holdout'> = {
  drawn: 0,
  people: 0,
  ordered: 0,
  orders: 0,
  revenueMinor: 0,
  revenueSquares: 0,
  uncutMinor: 0,
  clicked: 0,
  reviewed: 0,
  unsubscribed: 0,
}
