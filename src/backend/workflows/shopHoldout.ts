import { sql, type SQL } from 'drizzle-orm'
import type { ExperimentReport } from '../../contract/experiments.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { USUAL_PLAN } from '../../core/workflow/testPlan.ts'
import type { Db } from '../platform/db.ts'
import { listHoldouts, type KeptHoldout } from '../shop/index.ts'
import { attributed, countArms, dearestOrders, figuresOf, recentOf, TRAFFIC_DAYS } from './armCounts.ts' // prettier-ignore

/** All marketing together moves more people than one letter does. */
const PLAN = { ...USUAL_PLAN, least: 0.05 }

/**
 * What marketing has caused, by each holdout of the whole shop, the newest first. Everybody counts from the
 * moment at which their first marketing message of that time left, or would have, in a window of the same length.
 */
export async function holdoutReports(
  db: Db,
  shopId: string,
  now: Instant,
): Promise<ExperimentReport[]> {
  const holdouts = await listHoldouts(db, shopId)
  if (holdouts.length === 0) return []
  const cutMinor = await dearestOrders(db, { shopId, now })
  const reports: ExperimentReport[] = []
  for (const one of holdouts) {
    const { percent, since, until, list } = one
    const drawn = drawnIn(shopId, one, now)
    const trafficFrom = Math.max(since, now - TRAFFIC_DAYS * DAY_MS)
    const counted = await countArms(db, shopId, drawn, { cutMinor, trafficFrom })
    const arm = (key: string, name: string, weight: number, holdout: boolean) => ({
      ...figuresOf(counted, key),
      key,
      name,
      weight,
      holdout,
    })
    reports.push({
      step: 'holdout',
      name: list === undefined ? 'Holdout of the whole shop' : `Holdout among “${list}”`,
      plan: PLAN,
      isUnplanned: true,
      versions: [],
      from: since,
      until,
      now,
      perDay: until === null ? recentOf(counted) / Math.max(1, (now - trafficFrom) / DAY_MS) : 0,
      cutMinor,
      attributedMinor: await attributed(db, shopId, drawn, null),
      arms: [
        arm('marketing', 'May get marketing', 100 - percent, false),
        arm('holdout', 'Gets none', percent, true),
      ],
      touching: [],
    })
  }
  return reports
}

/**
 * Everybody's first marketing message of a time: it was to leave, or their being held out was all that kept it back. One
 * that was skipped at the door after all counts, too: of who is held out nobody can tell what would have come there.
 */
function drawnIn(
  shopId: string,
  { since, until, list }: Pick<KeptHoldout, 'since' | 'until' | 'list'>,
  now: Instant,
): SQL {
  const ofList =
    list === undefined
      ? sql``
      : sql`where customer_id in (select id from customers where shop_id = ${shopId} and lists ? ${list})`
  const windowMs = PLAN.windowDays * DAY_MS
  return sql`with firsts as (
      select customer_id, run_id, at, 'holdout' as arm from ledger
      where shop_id = ${shopId} and kind = 'skipped' and entry->'reason'->>'code' = 'holdout'
        and at >= ${since}::bigint and at < ${until ?? now + 1}::bigint
      union all
      select customer_id, run_id, decided_at, 'marketing' from messages
      where shop_id = ${shopId} and marketing and decided_at >= ${since}::bigint and decided_at < ${until ?? now + 1}::bigint
    ), drawn as materialized (
      select distinct on (customer_id) customer_id, run_id, at, arm,
        at + ${windowMs}::bigint as until, at + ${windowMs}::bigint <= ${now}::bigint as is_over
      from firsts ${ofList} order by customer_id, at, arm
    )`
}
