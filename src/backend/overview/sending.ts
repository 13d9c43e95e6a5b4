import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { SendingResponse } from '../../contract/overview.ts'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { forecast, spreadOf, type Past } from '../../core/forecast/forecast.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'

const SHOWN_DAYS = 28
const AHEAD_DAYS = 14
/** As far back as the forecast learns, and as it was checked two weeks ago. */
const READ_DAYS = 200

const EPOCH = Date.UTC(2000, 0, 1)
const dateOf = (day: number): string => new Date(EPOCH + day * DAY_MS).toISOString().slice(0, 10)

/**
 * How many messages left to customers on each of the last days, and will on the next. The forecast of two weeks ago is
 * made again with what was known then, and stands beside what came; how far it was off widens today's.
 */
export async function sending(db: Db, shop: Shop, now: Instant): Promise<SendingResponse> {
  const from = now - READ_DAYS * DAY_MS
  const past = await pastOf(db, shop, from)
  const today = await dayNumber(db, shop, now)
  const sent = await sentByDay(db, shop, now - (SHOWN_DAYS + 1) * DAY_MS)
  const cameOn = (day: number): number => {
    const row = sent.find((one) => one.day === day)
    return row ? row.marketing + row.transactional : 0
  }
  // Today is not over: it is forecast with the days ahead, from what was known yesterday evening.
  const yesterday = today - 1
  const checkedFrom = yesterday - AHEAD_DAYS
  const naive = forecast(past, checkedFrom, AHEAD_DAYS)
  const earlier = forecast(past, checkedFrom - AHEAD_DAYS, AHEAD_DAYS)
  const pairs = (days: typeof naive) => days.map(({ day, expected }) => ({ expected, came: cameOn(day) })) // prettier-ignore
  const checked = forecast(past, checkedFrom, AHEAD_DAYS, spreadOf(pairs(earlier)))
  const ahead = forecast(past, yesterday, AHEAD_DAYS + 1, spreadOf(pairs(naive)))
  return {
    days: Array.from({ length: SHOWN_DAYS }, (_, index) => {
      const day = yesterday - SHOWN_DAYS + 1 + index
      const row = sent.find((one) => one.day === day)
      const known = checked.find((one) => one.day === day)
      return {
        date: dateOf(day),
        marketing: row?.marketing ?? 0,
        transactional: row?.transactional ?? 0,
        forecast: known ? { expected: known.expected, low: known.low, high: known.high } : null,
      }
    }),
    ahead: ahead.map(({ day, ...rest }) => ({ date: dateOf(day), ...rest })),
  }
}

/** The day of a moment in the shop, as a number. */
const day = (column: string, zone: string) =>
  sql`((to_timestamp(${sql.raw(column)} / 1000.0) at time zone ${zone})::date - date '2000-01-01')`

async function dayNumber(db: Db, { zone }: Shop, now: Instant): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ day: z.number() }),
    sql`select ((to_timestamp(${now}::bigint / 1000.0) at time zone ${zone})::date - date '2000-01-01') as day`,
  )
  return row?.day ?? 0
}

async function pastOf(db: Db, shop: Shop, from: Instant): Promise<Past> {
  const { zone } = shop
  const entries = await rowsOf(
    db,
    z.object({ workflowId: z.string(), entered: z.number(), ended: z.number().nullable(), count: z.number() }), // prettier-ignore
    sql`select r.workflow_id as "workflowId", ${day('r.entered_at', zone)} as entered,
      ${day('e.at', zone)} as ended, count(*) as count
    from runs r
    left join lateral (select max(at) as at from ledger where ledger.shop_id = r.shop_id
      and ledger.run_id = r.id and r.status = 'ended') e on true
    where r.shop_id = ${shop.id} and r.entered_at >= ${from}::bigint group by 1, 2, 3`,
  )
  const sends = await rowsOf(
    db,
    z.object({ workflowId: z.string(), entered: z.number(), sent: z.number(), count: z.number() }),
    sql`select m.workflow_id as "workflowId", ${day('r.entered_at', zone)} as entered,
      ${day('m.sent_at', zone)} as sent, count(*) as count
    from messages m join runs r on r.shop_id = m.shop_id and r.id = m.run_id
    where m.shop_id = ${shop.id} and m.status = 'sent' and r.entered_at >= ${from}::bigint
      and m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')}) group by 1, 2, 3`,
  )
  return { entries, sends }
}

function sentByDay(db: Db, { id, zone }: Shop, from: Instant) {
  return rowsOf(
    db,
    z.object({ day: z.number(), marketing: z.number(), transactional: z.number() }),
    sql`select ${day('sent_at', zone)} as day, count(*) filter (where marketing) as marketing,
      count(*) filter (where not marketing) as transactional
    from messages where shop_id = ${id} and status = 'sent' and sent_at >= ${from}::bigint
      and channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')}) group by 1`,
  )
}
