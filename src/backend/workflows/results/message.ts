import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { MessageDetail } from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { withoutOwn } from '../../../core/messages/ownLinks.ts'
import { HOUR_MS } from '../../../core/shared/duration.ts'
import {
  shareBy,
  survivalCurve,
  timeUntilShareInterval,
} from '../../../core/statistics/survival.ts'
import { COUNTS } from '../earned.ts'
import { factsOf, type Cohort } from './facts.ts'

const sentRow = z.object({
  hour: z.int(),
  weekday: z.int(),
  delivered: z.int(),
  opened: z.int(),
  clicked: z.int(),
  date: z.string(),
})

/** More different links than this are not looked at. */
const MOST_LINKS = 5_000

/**
 * Which links of a message were followed by how many, and how it was taken by the local hour and weekday at which it
 * left: that of the customer, or of the shop where theirs is not known; and by day in the shop; and how soon people
 * ordered. Of those whose window is over, and with `isWithOpen` of all.
 */
export async function messageDetail(
  db: Db,
  asked: Cohort,
  step: string,
  isWithOpen: boolean,
): Promise<MessageDetail> {
  const { shopId } = asked
  const counted = isWithOpen ? sql`true` : sql`f.is_over`
  const links = await rowsOf(
    db,
    z.object({ url: z.string(), people: z.int() }),
    sql`${factsOf(asked)} select regexp_replace(e.data->'message'->>'url', '[?#].*$', '') as url,
      count(distinct f.run_id) as people
    from facts f
    join messages m on m.shop_id = ${shopId} and m.run_id = f.run_id and m.step = f.step
    join events e on e.shop_id = ${shopId} and e.customer_id = m.customer_id
      and e.type = 'message.clicked' and e.data->'message'->>'id' = m.message_id
      and e.data->'message'->>'url' is not null
    where f.step = ${step} and f.delivered and f.clicked and ${counted}
    group by 1 order by 2 desc, 1 limit ${MOST_LINKS}`,
  )
  const sent = await rowsOf(
    db,
    sentRow,
    sql`${factsOf(asked)}, local as (
      select f.opened, f.clicked, to_timestamp(m.sent_at / 1000.0)
        at time zone coalesce(c.zone, shops.zone) as at,
        to_char(to_timestamp(m.sent_at / 1000.0) at time zone shops.zone, 'YYYY-MM-DD') as date
      from facts f
      join messages m on m.shop_id = ${shopId} and m.run_id = f.run_id and m.step = f.step
      join shops on shops.id = ${shopId}
      left join customers c on c.shop_id = ${shopId} and c.id = m.customer_id
      where f.step = ${step} and f.delivered and ${counted}
    )
    select extract(hour from at)::int as hour, extract(isodow from at)::int as weekday, date,
      count(*) as delivered, count(*) filter (where opened) as opened,
      count(*) filter (where clicked) as clicked
    from local group by 1, 2, 3`,
  )
  return {
    links: withoutOwn(links),
    hours: by(sent, 'hour'),
    weekdays: by(sent, 'weekday'),
    days: byDay(sent),
    untilOrder: await untilOrder(db, asked, step, counted),
  }
}

/** More points than this no picture shows. */
const MOST_POINTS = 120
const SHARES = [0.05, 0.1, 0.25, 0.5] as const

/** How soon those who got it ordered, by Kaplan–Meier: who got it lately has not been watched for long. */
async function untilOrder(
  db: Db,
  asked: Cohort,
  step: string,
  counted: SQL,
): Promise<MessageDetail['untilOrder']> {
  const { shopId, now, windowDays } = asked
  const rows = await rowsOf(
    db,
    z.object({ sentAt: z.number(), orderedAt: z.number().nullable() }),
    sql`${factsOf(asked)} select f.sent_at as "sentAt", (
        select min(orders.placed_at) from orders
        where orders.shop_id = ${shopId} and orders.customer_id = f.customer_id
          and orders.placed_at > f.sent_at and ${COUNTS}) as "orderedAt"
    from facts f where f.step = ${step} and f.delivered and ${counted}`,
  )
  const most = windowDays * 24
  const watched = rows.map(({ sentAt, orderedAt }) => {
    const hours = Math.ceil(((orderedAt ?? now) - sentAt) / HOUR_MS)
    return { time: Math.min(hours, most), came: orderedAt !== null && hours <= most }
  })
  const curve = survivalCurve(watched)
  if (curve.length === 0) return null
  const every = Math.ceil(curve.length / MOST_POINTS)
  return {
    curve: curve
      .filter((_, index) => index % every === 0 || index === curve.length - 1)
      .map((one) => ({ hours: one.time, ...shareBy(one) })),
    reached: SHARES.flatMap((share) => {
      const { time, low, high } = timeUntilShareInterval(curve, share)
      return time === null ? [] : [{ share, hours: time, low, high }]
    }),
  }
}

/** The figures of each day on which any left. */
function byDay(rows: readonly z.infer<typeof sentRow>[]): MessageDetail['days'] {
  const days = new Map<string, MessageDetail['days'][number]>()
  for (const { date, delivered, opened, clicked } of rows) {
    const day = days.get(date) ?? { date, delivered: 0, opened: 0, clicked: 0 }
    days.set(date, { date, delivered: day.delivered + delivered, opened: day.opened + opened, clicked: day.clicked + clicked }) // prettier-ignore
  }
  return [...days.values()].toSorted((a, b) => (a.date < b.date ? -1 : 1))
}

/** The figures of each hour or weekday at which anything left. */
function by(rows: readonly z.infer<typeof sentRow>[], key: 'hour' | 'weekday') {
  const keys = [...new Set(rows.map((row) => row[key]))].toSorted((a, b) => a - b)
  return keys.map((at) => {
    const own = rows.filter((row) => row[key] === at)
    const sum = (of: 'delivered' | 'opened' | 'clicked') => own.reduce((all, row) => all + row[of], 0) // prettier-ignore
    return { at, delivered: sum('delivered'), opened: sum('opened'), clicked: sum('clicked') }
  })
}
