import type { SendingResponse } from '../../contract/overview.ts'
import { forecast, spreadOf, type EntryCount, type Past } from '../../core/forecast/forecast.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { localDays } from '../../core/shared/localTime.ts'
import { localTime, type Instant } from '../../core/shared/time.ts'
import type { Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'
import type { DayCount } from './dayCount.ts'
import { dayCounts } from './dayCounts.ts'

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
  const { past, sent, today } = await pastOf(db, shop, now - READ_DAYS * DAY_MS, now)
  const cameOn = (day: number): number => {
    const row = sent.get(day)
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
      const row = sent.get(day)
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

interface SentOn {
  marketing: number
  transactional: number
}

/** What was counted of the days, as the forecast reads it; each day as a number, the last of them today. */
async function pastOf(
  db: Db,
  { id, zone }: Shop,
  from: Instant,
  now: Instant,
): Promise<{ past: Past; sent: Map<number, SentOn>; today: number }> {
  const days = localDays(from, now + 1, zone)
  const first = dayNumber(days[0]?.from ?? now, zone)
  const place = new Map(days.map((day, index) => [day.from, first + index]))
  const counts = (await dayCounts(db, id, days, now)).flatMap(({ day, counts: own }) =>
    own.map((one) => ({ ...one, day: place.get(day) ?? 0, entered: place.get(one.entered ?? -1) })),
  )
  const known = counts.flatMap(({ entered, ...one }) => (entered === undefined ? [] : [{ ...one, entered }])) // prettier-ignore
  return {
    past: { entries: entriesOf(known), sends: known.filter(({ what }) => what === 'sent').map(({ day, ...one }) => ({ ...one, sent: day })) },
    sent: sentByDay(counts),
    today: first + days.length - 1,
  } // prettier-ignore
}

type Known = Omit<DayCount, 'entered'> & { day: number; entered: number }

/** Who entered on each day, by when they came to its end; the rest are still in it. */
function entriesOf(known: readonly Known[]): EntryCount[] {
  const inIt = new Map<string, EntryCount>()
  const ended: EntryCount[] = []
  for (const { what, workflowId, entered, count } of known) {
    if (what === 'entered') inIt.set(`${workflowId} ${entered}`, { workflowId, entered, ended: null, count })
  }
  for (const { what, workflowId, entered, day, count } of known) {
    if (what !== 'ended') continue
    ended.push({ workflowId, entered, ended: day, count })
    const rest = inIt.get(`${workflowId} ${entered}`)
    if (rest) rest.count -= count
  }
  return [...ended, ...[...inIt.values()].filter(({ count }) => count > 0)]
} // prettier-ignore

/** What left on each day on which anything did. */
function sentByDay(
  counts: readonly { what: string; day: number; marketing: boolean; count: number }[],
): Map<number, SentOn> {
  const days = new Map<number, SentOn>()
  for (const { what, day, marketing, count } of counts) {
    if (what !== 'sent') continue
    const known = days.get(day) ?? { marketing: 0, transactional: 0 }
    known[marketing ? 'marketing' : 'transactional'] += count
    days.set(day, known)
  }
  return days
}

/** The calendar date of a moment in the shop, as a number. */
const dayNumber = (at: Instant, zone: string): number => {
  const { year, month, day } = localTime(at, zone)
  return Math.round((Date.UTC(year, month - 1, day) - EPOCH) / DAY_MS)
}
