import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { document, rowsOf, type Db } from '../../backend/platform/db.ts'
import { loadIntervals } from '../../backend/reorder/index.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts, NO_ENTITY } from '../../core/events/entityFacts.ts'
import type { OrderFacts } from '../../core/events/facts.ts'
import { OwnReorders } from '../../core/life/ownReorders.ts'
import { grouped } from '../../core/shared/grouped.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { HeldDate } from './heldDate.ts'
import { isDrawn } from './lot.ts'
import type { Period } from './pastStart.ts'

const orderEvent = z.object({
  type: z.enum(['order.placed', 'order.cancelled', 'order.refunded']),
  at: z.number(),
  customerId: z.string(),
  data: document<EventData>(),
})
type OrderEvent = z.infer<typeof orderEvent>

/**
 * When people were expected to buy again what they had bought, by the intervals of today and by what was known of
 * each of them then; until they bought it again, or sent it back.
 */
export async function pastReorders(
  db: Db,
  shop: Shop,
  { now, oneIn = 1 }: Pick<Period, 'now' | 'oneIn'>,
): Promise<HeldDate[]> {
  const intervals = await loadIntervals(db, shop.id)
  if (intervals.products.size === 0 && intervals.categories.size === 0) return []
  const rows = await rowsOf(
    db,
    orderEvent,
    sql`select type, time as at, customer_id as "customerId", data from events
    where shop_id = ${shop.id} and type in ('order.placed', 'order.cancelled', 'order.refunded')
      and time <= ${now} and ${isDrawn(sql`customer_id`, oneIn)} order by time, seq`,
  )
  return [...grouped(rows, ({ customerId }) => customerId).values()].flatMap((own) =>
    ownHeld(own, new OwnReorders(intervals), shop.zone),
  )
}

/** The days that one person's orders had, one after the other. */
function ownHeld(events: readonly OrderEvent[], reorders: OwnReorders, zone: string): HeldDate[] {
  const held: HeldDate[] = []
  const placed = new Map<string, Instant>()
  for (const { type, at, customerId, data } of events) {
    const told = entityFacts(type, data, at).order
    if (!told) continue
    placed.set(told.id, placed.get(told.id) ?? at)
    const order = { ...told, placedAt: placed.get(told.id) ?? at }
    reorders.take(order, zone)
    endWhatIsOver(held, order, at)
    if (type !== 'order.placed') continue
    const known = reorders.known(order)
    known.lines.forEach(({ reorder }, line) => {
      if (!reorder) return
      held.push({
        customerId,
        subjectId: order.id,
        line,
        date: reorder.at,
        knownAt: at,
        until: Infinity,
        isNew: true,
        entity: {
          ...NO_ENTITY,
          order: known,
        },
      })
    })
  }
  return held
}

/** What an order is of is no longer expected of the orders before it; of one that does not stand, nothing is. */
function endWhatIsOver(held: readonly HeldDate[], { id, status, lines }: OrderFacts, at: Instant) {
  for (const one of held) {
    if (one.until !== Infinity) continue
    const product = one.entity.order?.lines[one.line ?? -1]?.productId
    const boughtAgain = lines.some(({ productId }) => productId === product)
    const isOver = status === 'placed' ? boughtAgain : one.subjectId === id
    if (isOver) one.until = at
  }
}
