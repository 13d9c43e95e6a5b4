import { asc, and, eq, sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { ExperimentReport } from '../../contract/experiments.ts'
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
import {
  attributed,
  countArms,
  dearestOrders,
  figuresOf,
  recentOf,
  TRAFFIC_DAYS,
} from './armCounts.ts'
import { workflowVersions } from './tables.ts'

interface Asked {
  shopId: string
  workflowId: string
  now: Instant
}

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
  if (keys.length === 0) return { reports: [], earlier: [] }
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

async function reportOf(
  db: Db,
  asked: Asked,
  { step, versions, from, until }: TestPeriod,
  cutMinor: number,
): Promise<ExperimentReport> {
  const plan = step.plan ?? USUAL_PLAN
  const drawn = drawnIn(asked, step.key, versions, plan.windowDays)
  const trafficFrom = Math.max(from, asked.now - TRAFFIC_DAYS * DAY_MS)
  const counted = await countArms(db, asked.shopId, drawn, { cutMinor, trafficFrom })
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
    perDay: until === null ? recentOf(counted) / days : 0,
    cutMinor,
    attributedMinor: await attributed(db, asked.shopId, drawn, asked.workflowId),
    arms: step.arms.map(({ key, name, weight, holdout = false }) => ({
      ...figuresOf(counted, key),
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
    sql`${drawn}, others as materialized (
      select customer_id, workflow_id, entry->>'step' as step, entry->'roll' as roll, at from ledger
      where shop_id = ${shopId} and kind = 'tookArm'
        and (workflow_id, entry->>'step') <> (${workflowId}, ${step})
    )
    select others.workflow_id as "workflowId", others.step,
      count(distinct others.customer_id) as people, bool_and(others.roll = drawn.roll) as "isSameDraw"
    from drawn
    join others on others.customer_id = drawn.customer_id
      and others.at between drawn.at - (drawn.until - drawn.at) and drawn.until
    group by 1, 2 order by 3 desc`,
  )
}
