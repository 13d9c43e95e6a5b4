import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { MessageDetail } from '../../../contract/results.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { withoutOwn } from '../../../core/messages/ownLinks.ts'
import { factsOf, type Cohort } from './facts.ts'

const sentRow = z.object({
  hour: z.int(),
  weekday: z.int(),
  delivered: z.int(),
  opened: z.int(),
  clicked: z.int(),
})

/** More different links than this are not looked at. */
const MOST_LINKS = 5_000

/**
 * Which links of a message were followed by how many, and how it was taken by the local hour and weekday at which it
 * left: that of the customer, or of the shop where theirs is not known. Of those whose window is over, and with
 * `isWithOpen` of all.
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
        at time zone coalesce(c.zone, shops.zone) as at
      from facts f
      join messages m on m.shop_id = ${shopId} and m.run_id = f.run_id and m.step = f.step
      join shops on shops.id = ${shopId}
      left join customers c on c.shop_id = ${shopId} and c.id = m.customer_id
      where f.step = ${step} and f.delivered and ${counted}
    )
    select extract(hour from at)::int as hour, extract(isodow from at)::int as weekday,
      count(*) as delivered, count(*) filter (where opened) as opened,
      count(*) filter (where clicked) as clicked
    from local group by 1, 2`,
  )
  return { links: withoutOwn(links), hours: by(sent, 'hour'), weekdays: by(sent, 'weekday') }
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
