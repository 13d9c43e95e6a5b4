import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { WITHIN_DAYS } from '../../contract/coupons.ts'
import type { CohortsResponse } from '../../contract/overview.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import { codesUsedSince } from '../coupons/index.ts'
import type { Shop } from '../shop/index.ts'
import { COUNTS } from '../workflows/index.ts'

/** So many months of first orders are shown, each watched for as many. */
const MONTHS = 12
const LOOKED_BACK_DAYS = 90

/** Second orders by the month of the first, and what became of coupons, review requests and renewal reminders. */
export async function cohorts(db: Db, shop: Shop, now: Instant): Promise<CohortsResponse> {
  return {
    cohorts: await secondOrders(db, shop, now),
    coupons: await couponsUsed(db, shop.id, now),
    reviews: await reviewsLeft(db, shop.id, now),
    renewals: await renewalsKept(db, shop.id, now),
  }
}

async function secondOrders(db: Db, { id, zone }: Shop, now: Instant) {
  const rows = await rowsOf(
    db,
    z.object({ month: z.string(), people: z.int(), after: z.int().nullable() }),
    sql`with placed as (
      select customer_id, placed_at, row_number() over (partition by customer_id order by placed_at, id) as place
      from orders where shop_id = ${id} and ${COUNTS} and placed_at <= ${now}::bigint
    ), each as (
      select date_trunc('month', to_timestamp(a.placed_at / 1000.0) at time zone ${zone}) as first,
        date_trunc('month', to_timestamp(b.placed_at / 1000.0) at time zone ${zone}) as second
      from placed a left join placed b on b.customer_id = a.customer_id and b.place = 2
      where a.place = 1
    )
    select to_char(first, 'YYYY-MM') as month, count(*) as people,
      (extract(year from age(second, first)) * 12 + extract(month from age(second, first)))::int as after
    from each group by 1, 3 order by 1, 3`,
  )
  const [year = 0, month = 0] = monthOf(now, zone)
  const months = [...new Set(rows.map((row) => row.month))]
  return months.slice(-MONTHS).map((first) => {
    const own = rows.filter((row) => row.month === first)
    const [firstYear = 0, firstMonth = 0] = first.split('-').map(Number)
    const age = (year - firstYear) * 12 + month - firstMonth
    return {
      month: first,
      people: own.reduce((sum, { people }) => sum + people, 0),
      again: Array.from({ length: Math.min(MONTHS, age + 1) }, (_, after) =>
        own.reduce(
          (sum, one) => sum + (one.after !== null && one.after <= after ? one.people : 0),
          0,
        ),
      ),
    }
  })
}

const monthOf = (now: Instant, zone: string): number[] =>
  new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit' }).format(now).split('-').map(Number) // prettier-ignore

/** The codes of late, by the very count of the coupons' own page. */
async function couponsUsed(db: Db, shopId: string, now: Instant) {
  const { issued, redeemed, within } = await codesUsedSince(
    db,
    shopId,
    now - LOOKED_BACK_DAYS * DAY_MS,
  )
  return {
    issued,
    redeemed,
    withinDays: WITHIN_DAYS.map((days, index) => ({ days, redeemed: within[index] ?? 0 })),
  }
}

/** Of those whom a workflow about dispatch or delivery wrote to with a link to reviews: who left one within 30 days. */
async function reviewsLeft(db: Db, shopId: string, now: Instant) {
  const [row] = await rowsOf(
    db,
    z.object({ asked: z.int(), left: z.int() }),
    sql`select count(*) as asked, count(*) filter (where exists (select 1 from events e
        where e.shop_id = ${shopId} and e.customer_id = asked.customer_id and e.type = 'review.submitted'
          and e.time > asked.at and e.time <= asked.at + ${30 * DAY_MS}::bigint)) as left
    from (
      select m.customer_id, min(m.sent_at) as at from messages m
      join workflow_versions v on v.shop_id = m.shop_id and v.workflow_id = m.workflow_id and v.version = m.version
      where m.shop_id = ${shopId} and m.status = 'sent'
        and m.sent_at between ${now - (LOOKED_BACK_DAYS + 30) * DAY_MS}::bigint and ${now - 30 * DAY_MS}::bigint
        and jsonb_path_exists(v.definition, '$.labels[*] ? (@ like_regex "review" flag "i")')
        and v.definition->'trigger'->>'event' <> 'review.submitted'
      group by 1
    ) asked`,
  )
  return row ?? { asked: 0, left: 0 }
}

/** Of subscriptions that a workflow reminded of a payment: whose next event was that they were renewed. */
async function renewalsKept(db: Db, shopId: string, now: Instant) {
  const [row] = await rowsOf(
    db,
    z.object({ reminded: z.int(), kept: z.int(), over: z.int() }),
    sql`select count(*) as reminded, count(*) filter (where type = 'subscription.renewed') as kept,
      count(type) as over
    from (
      select (select e.type from events e where e.shop_id = ${shopId}
          and e.customer_id = m.customer_id and e.subject_id = r.subject_id
          and e.time > m.sent_at and e.type = any(${arrayOf(ENDS_A_REMINDER, 'text')})
          order by e.time limit 1) as type
      from messages m
      join runs r on r.shop_id = m.shop_id and r.id = m.run_id
      join workflow_versions v on v.shop_id = m.shop_id and v.workflow_id = m.workflow_id and v.version = m.version
      where m.shop_id = ${shopId} and m.status = 'sent' and m.sent_at > ${now - LOOKED_BACK_DAYS * DAY_MS}::bigint
        and v.definition->'trigger'->>'field' = 'subscription.nextPaymentAt'
    ) each`,
  )
  return row ?? { reminded: 0, kept: 0, over: 0 }
}

const ENDS_A_REMINDER = ['subscription.renewed', 'subscription.payment_failed', 'subscription.status_changed'] as const // prettier-ignore
