import { sql } from 'drizzle-orm'
import { rowsOf, type Db } from '../../backend/platform/db.ts'
import type { Shop } from '../../backend/shop/index.ts'
import { isFromTo } from '../../core/workflow/start.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { EventTrigger, Trigger } from '../../core/workflow/trigger.ts'
import { isDrawn } from './lot.ts'
import { pastDates } from './pastDates.ts'
import type { PastStart, Period } from './pastStart.ts'
import { recordedColumns, RecordedEvent, recordedRow } from './recordedEvent.ts'

/** More of them than this are not gone through; the newest are. What is counted of them is there within a second. */
const MOST_STARTS = 8_000

/**
 * What a trigger would have started in a period, the newest first, and since when it is complete:
 * later than `from` where there was too much. Nothing for people who are put in by hand.
 */
export async function pastStarts(
  db: Db,
  shop: Shop,
  trigger: Trigger,
  period: Period,
  most = MOST_STARTS,
): Promise<{ starts: PastStart[]; since: Instant }> {
  const all = await startsOf(db, shop, trigger, period, most)
  const starts = all.slice(0, most)
  return { starts, since: all.length > most ? (starts.at(-1)?.at ?? 0) : period.from }
}

async function startsOf(
  db: Db,
  shop: Shop,
  trigger: Trigger,
  period: Period,
  most: number,
): Promise<PastStart[]> {
  switch (trigger.kind) {
    case 'event':
      return eventStarts(db, shop.id, trigger, period, most)
    case 'date':
      return pastDates(db, shop, trigger, period)
    case 'hand':
      return []
  }
}

async function eventStarts(
  db: Db,
  shopId: string,
  trigger: EventTrigger,
  { from, now, oneIn = 1 }: Period,
  most: number,
): Promise<PastStart[]> {
  const rows = await rowsOf(
    db,
    recordedRow,
    sql`select ${recordedColumns(sql`true`)} from events
    where shop_id = ${shopId} and type = ${trigger.event} and time > ${from} and time <= ${now}
      and ${isDrawn(sql`customer_id`, oneIn)}
    order by time desc limit ${most + 1}`,
  )
  const starts = rows.map((row) => ({ row, event: new RecordedEvent(row) }))
  return starts
    .filter(({ event }) => isFromTo(trigger, event.change))
    .map(({ row: { customerId }, event }) => ({
      at: event.at,
      customerId,
      subjectId: event.subjectId,
      line: null,
      date: null,
      // Who only counts people does not ask what they ordered.
      get entity() {
        return event.entity
      },
    }))
}
