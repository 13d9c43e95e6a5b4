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
import { sentFactsOf, type Cohort } from './facts.ts'

const sentRow = z.object({
  hour: z.int(),
  weekday: z.int(),
  delivered: z.int(),
  opened: z.int(),
  clicked: z.int(),
  date: z.string(),
})

const linkRow = z.object({ url: z.string(), people: z.int() })
const orderedRow = z.object({ sentAt: z.number(), orderedAt: z.number().nullable() })

/** More different links than this are not looked at. */
const MOST_LINKS = 5_000

const linksOf = (shopId: string, counted: SQL): SQL => sql`
  select regexp_replace(e.data->'message'->>'url', '[?#].*$', '') as url,
    count(distinct f.run_id) as people
  from facts f
  join messages m on m.shop_id = ${shopId} and m.run_id = f.run_id and m.step = f.step
  join events e on e.shop_id = ${shopId} and e.customer_id = m.customer_id
    and e.type = 'message.clicked' and e.data->'message'->>'id' = m.message_id
    and e.data->'message'->>'url' is not null
  where f.delivered and f.clicked and ${counted}
  group by 1 order by 2 desc, 1 limit ${MOST_LINKS}`

const sentOf = (shopId: string, counted: SQL): SQL => sql`
  select extract(hour from local.at)::int as hour, extract(isodow from local.at)::int as weekday,
    local.date, count(*) as delivered, count(*) filter (where local.opened) as opened,
    count(*) filter (where local.clicked) as clicked
  from (
    select f.opened, f.clicked,
      to_timestamp(f.sent_at / 1000.0) at time zone coalesce(c.zone, shops.zone) as at,
      to_char(to_timestamp(f.sent_at / 1000.0) at time zone shops.zone, 'YYYY-MM-DD') as date
    from facts f
    join shops on shops.id = ${shopId}
    left join customers c on c.shop_id = ${shopId} and c.id = f.customer_id
    where f.delivered and ${counted}
  ) local group by 1, 2, 3`

const orderedOf = (shopId: string, counted: SQL): SQL => sql`
  select f.sent_at as "sentAt", (
    select min(orders.placed_at) from orders
    where orders.shop_id = ${shopId} and orders.customer_id = f.customer_id
      and orders.placed_at > f.sent_at and ${COUNTS}) as "orderedAt"
  from facts f where f.delivered and ${counted}`

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
  const counted = isWithOpen ? sql`true` : sql`f.is_over`
  const [found] = await rowsOf(
    db,
    z.object({ links: z.array(linkRow), sent: z.array(sentRow), ordered: z.array(orderedRow) }),
    sql`${sentFactsOf(asked, step)}, links as (${linksOf(asked.shopId, counted)}),
    sent as (${sentOf(asked.shopId, counted)}), ordered as (${orderedOf(asked.shopId, counted)})
    select (select coalesce(json_agg(l), '[]') from links l) as links,
      (select coalesce(json_agg(s), '[]') from sent s) as sent,
      (select coalesce(json_agg(o), '[]') from ordered o) as ordered`,
  )
  const { links, sent, ordered } = found ?? { links: [], sent: [], ordered: [] }
  return {
    links: withoutOwn(links),
    hours: by(sent, 'hour'),
    weekdays: by(sent, 'weekday'),
    days: byDay(sent),
    untilOrder: untilOrder(ordered, asked),
  }
}

/** More points than this no picture shows. */
const MOST_POINTS = 120
const SHARES = [0.05, 0.1, 0.25, 0.5] as const

/** How soon those who got it ordered, by Kaplan–Meier: who got it lately has not been watched for long. */
function untilOrder(
  rows: readonly z.infer<typeof orderedRow>[],
  { now, windowDays }: Cohort,
): MessageDetail['untilOrder'] {
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
