import { sql } from 'drizzle-orm'
import ical, { ICalEventTransparency } from 'ical-generator'
import { z } from 'zod'
import { DAY_MS } from '../../core/shared/duration.ts'
import { dateIn, localDays, startOfToday } from '../../core/shared/localTime.ts'
import type { Instant } from '../../core/shared/time.ts'
import { plural } from '../../core/words/quantities.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { readToken, signedToken } from '../platform/signed.ts'
import { readClock, type Shop } from '../shop/index.ts'
import { sending } from './sending.ts'

/** So far ahead renewals and people who wait are told. */
const AHEAD_DAYS = 60

/** The secret part of the address at which calendar programs fetch a shop's calendar. */
export const calendarToken = (secret: string, shopId: string): string =>
  signedToken(secret, 'calendar', [shopId])

/** The shop whose calendar a token is for; null for one that was not made here. */
export function shopOfCalendar(secrets: readonly string[], token: string): string | null {
  const shopId = readToken(secrets, 'calendar', token)?.[0]
  return typeof shopId === 'string' ? shopId : null
}

const dueRow = z.object({ at: z.number(), what: z.string(), id: z.string(), name: z.string(), count: z.int() }) // prettier-ignore
type DueRow = z.infer<typeof dueRow>

/** Something that a day of the calendar says. */
interface Entry {
  date: string
  key: string
  title: string
}

/**
 * What is to come, as a calendar (RFC 5545): how many messages will leave each day, how many people are due in which workflow,
 * renewals and ends of subscriptions. Whole days of the shop's calendar; it names nobody.
 */
export async function shopCalendar(db: Db, shop: Shop): Promise<string> {
  const { now } = await readClock(db, shop.id)
  const calendar = ical({ name: `Yomble: ${shop.name}`, prodId: { company: 'Yomble', product: 'calendar' }, ttl: 3600 }) // prettier-ignore
  for (const { date, key, title } of [...(await expected(db, shop, now)), ...(await due(db, shop, now))]) {
    calendar.createEvent({
      id: `${key}-${date}@yomble`,
      // A date is no instant: as noon of UTC it is the same day wherever it is read.
      start: new Date(`${date}T12:00:00Z`),
      end: new Date(Date.parse(`${date}T12:00:00Z`) + DAY_MS),
      allDay: true,
      timezone: 'UTC',
      stamp: new Date(now),
      summary: title,
      transparency: ICalEventTransparency.TRANSPARENT,
    })
  }
  return calendar.toString()
} // prettier-ignore

/** The forecast of messages. */
async function expected(db: Db, shop: Shop, now: Instant): Promise<Entry[]> {
  const { ahead } = await sending(db, shop, now)
  return ahead
    .filter((day) => day.expected >= 0.5)
    .map(({ date, expected: count, low, high }) => ({
      date,
      key: 'messages',
      title: `About ${plural(Math.round(count), 'message')} (${Math.round(low)} to ${Math.round(high)})`,
    }))
}

/** People whose wait ends, renewals, and subscriptions that end, by day. */
async function due(db: Db, shop: Shop, now: Instant): Promise<Entry[]> {
  const from = startOfToday(now, shop.zone)
  const to = now + AHEAD_DAYS * DAY_MS
  const rows = await rowsOf(db, dueRow, sql`
    select d.due_at as at, 'due' as what, r.workflow_id as id, w.draft->>'name' as name, count(*)::int as count
    from due_runs d join runs r on r.shop_id = d.shop_id and r.id = d.run_id join workflows w on w.shop_id = r.shop_id and w.id = r.workflow_id
    where d.shop_id = ${shop.id} and d.due_at >= ${from} and d.due_at < ${to} and w.state <> 'paused' group by 1, 2, 3, 4
    union all
    select next_payment_at, 'renewal', product_id, title, count(*)::int from subscriptions
    where shop_id = ${shop.id} and status in ('running', 'trial') and next_payment_at >= ${from} and next_payment_at < ${to} group by 1, 2, 3, 4
    union all
    select ends_at, 'end', product_id, title, count(*)::int from subscriptions
    where shop_id = ${shop.id} and ends_at >= ${from} and ends_at < ${to} group by 1, 2, 3, 4`)
  return localDays(from, to, shop.zone).flatMap((day) => {
    const counts = new Map<string, DueRow>()
    for (const row of rows) {
      if (row.at < day.from || row.at >= day.to) continue
      const key = `${row.what}-${row.id}`
      counts.set(key, { ...row, count: row.count + (counts.get(key)?.count ?? 0) })
    }
    return [...counts].map(([key, row]) => ({ date: dateIn(day.from, shop.zone), key, title: TITLES[row.what]?.(row) ?? row.name }))
  })
} // prettier-ignore

const TITLES: Readonly<Record<string, (row: DueRow) => string>> = {
  due: ({ name, count }) => `${name}: ${count === 1 ? '1 person is due' : `${count} people are due`}`, // prettier-ignore
  renewal: ({ name, count }) => `${plural(count, 'renewal')} of ${name}`,
  end: ({ name, count }) => `${plural(count, 'subscription')} of ${name} ${count === 1 ? 'ends' : 'end'}`, // prettier-ignore
}
