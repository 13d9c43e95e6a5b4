import { sql } from 'drizzle-orm'
import { recordsOf, rowsOf, type Db } from '../../backend/platform/db.ts'
import { COUNTS } from '../../backend/workflows/index.ts'
import { readClock } from '../../backend/shop/index.ts'
import { trafficResponse, type TrafficResponse } from '../../contract/experiments.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { experimentAt } from '../../core/experiments/period.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { USUAL_PLAN } from '../../core/workflow/testPlan.ts'
import { replay } from './replay.ts'

const counted = trafficResponse.unwrap().omit({ since: true, now: true, people: true })

/**
 * Who would have been parted by an experiment of a draft in the last 90 days, and what they did in the window after
 * it anyway: what a test is planned by. Null where the past cannot be gone through.
 */
export async function testTraffic(
  db: Db,
  shopId: string,
  definition: Definition,
  stepKey: string,
): Promise<TrafficResponse> {
  const step = experimentAt(definition, stepKey)
  const replayed = step && (await replay(db, shopId, definition))
  if (!step || !replayed) return null
  const { now } = await readClock(db, shopId)
  const windowMs = (step.plan ?? USUAL_PLAN).windowDays * DAY_MS
  const draws = replayed.lives.flatMap(({ customerId, decided }) => {
    const first = decided.find(
      ({ decision }) => decision.kind === 'tookArm' && decision.step === stepKey,
    )
    return first ? [{ customerId, at: first.at }] : []
  })
  const told = (type: string) => sql`exists (select 1 from events
    where events.shop_id = ${shopId} and events.customer_id = d."customerId" and events.type = ${type}
      and events.time > d.at and events.time <= d.at + ${windowMs}::bigint)`
  const [did] = await rowsOf(
    db,
    counted,
    sql`with d as (
      select * from jsonb_to_recordset(${recordsOf(draws)}) as r("customerId" text, at bigint)
      where r.at + ${windowMs}::bigint <= ${now}::bigint
    ), each as (
      select d.*, coalesce(b.spent, 0)::float8 as spent, coalesce(b.orders, 0) as orders
      from d left join lateral (
        select count(*) as orders, sum(orders.total_minor) as spent from orders
        join shops on shops.id = orders.shop_id and shops.currency = orders.currency
        where orders.shop_id = ${shopId} and orders.customer_id = d."customerId" and ${COUNTS}
          and orders.placed_at > d.at and orders.placed_at <= d.at + ${windowMs}::bigint
      ) b on true
    )
    select count(*) as watched, count(*) filter (where orders > 0) as ordered,
      coalesce(sum(spent), 0) as "revenueMinor", coalesce(sum(spent * spent), 0) as "revenueSquares",
      count(*) filter (where ${told('review.submitted')}) as reviewed,
      count(*) filter (where ${told('message.unsubscribed')}) as unsubscribed
    from each d`,
  )
  if (!did) return null
  const { since, oneIn } = replayed
  const scaled = Object.fromEntries(Object.entries({ ...did, people: draws.length }).map(([key, count]) => [key, count * oneIn])) as typeof did & { people: number } // prettier-ignore
  return { ...scaled, since, now, oneIn }
}
