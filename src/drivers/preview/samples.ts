import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../../backend/platform/db.ts'
import { findShop, readClock } from '../../backend/shop/index.ts'
import type { Facts } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { formatMoney } from '../../core/shared/money.ts'
import type { Trigger } from '../../core/workflow/trigger.ts'
import { pastSubjects } from '../past/pastSubjects.ts'

/** Somebody a message can be looked at for, with what it would be about. */
export interface Sample {
  customerId: string
  subjectId: string | null
  line: number | null
  name: string
  about: string
  at: number
}

const MOST = 60
/** Looked back so many days, at so many of the newest; further only where that was not enough. */
const LOOKS: readonly { days: number; most?: number }[] = [
  { days: 14, most: 400 },
  { days: 14 },
  { days: 400 },
]

/** Those whom a trigger and its filter concerned lately, the newest first. */
export async function samplesFor(
  db: Db,
  shopId: string,
  trigger: Trigger,
  search: string,
): Promise<Sample[]> {
  if (trigger.kind === 'hand') return handSamples(db, shopId, trigger.subject, search)
  const { now } = await readClock(db, shopId)
  for (const { days, most } of LOOKS) {
    const { subjects, since } = await pastSubjects(db, shopId, trigger, {
      days,
      conditions: [],
      most,
    })
    const isWhole = since <= now - days * DAY_MS
    const found = subjects
      .map(({ atOnce }) => sampleOf(atOnce.facts, atOnce.enteredAt))
      .filter((one) => matches(one, search))
    // Of a few of the newest it says only as much as fills the list.
    if (found.length >= MOST || (found.length > 0 && (isWhole || most === undefined))) return found.slice(0, MOST) // prettier-ignore
  }
  return []
}

const matches = ({ name, about }: Sample, search: string): boolean =>
  `${name} ${about}`.toLowerCase().includes(search.toLowerCase())

function sampleOf(facts: Facts, at: number): Sample {
  const { customer, subject, line, order } = facts
  const index = line === null ? -1 : (order?.lines.indexOf(line) ?? -1)
  return {
    customerId: customer.id,
    subjectId: subject.kind === 'customer' ? null : subject.id,
    line: index === -1 ? null : index,
    name: nameOf(customer),
    about: aboutOf(facts),
    at,
  }
}

function nameOf({ id, email, firstName, lastName }: Facts['customer']): string {
  const name = [firstName, lastName].filter(Boolean).join(' ')
  return name || email || id
}

function aboutOf({ order, checkout, basket, subscription, review, line, shop }: Facts): string {
  const cart = checkout ?? basket
  const money = ({ totalMinor, currency }: { totalMinor: number; currency: string }) =>
    formatMoney({ amountMinor: totalMinor, currency }, shop.locale)
  if (order) return `Order ${order.number}, ${money(order)}`
  if (cart) return `${checkout ? 'Checkout' : 'Basket'}, ${money(cart)}`
  if (subscription) return subscription.product.title
  if (review) return `${review.stars} of 5 stars${line ? ` for ${line.title}` : ''}`
  return line?.title ?? ''
}

/** For those who are put in by hand: the newest orders or customers. */
async function handSamples(
  db: Db,
  shopId: string,
  subject: 'order' | 'customer',
  search: string,
): Promise<Sample[]> {
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const rows = await rowsOf(
    db,
    z.object({
      customerId: z.string(),
      name: z.string(),
      orderId: z.string(),
      number: z.string(),
      totalMinor: z.number(),
      currency: z.string(),
      at: z.number(),
    }),
    sql`select c.id as "customerId",
      coalesce(nullif(concat_ws(' ', c.first_name, c.last_name), ''), c.email, c.id) as name,
      o.id as "orderId", o.number, o.total_minor as "totalMinor", o.currency,
      coalesce(o.placed_at, o.as_of) as at
    from orders o join customers c on c.shop_id = o.shop_id and c.id = o.customer_id
    where o.shop_id = ${shopId} and o.as_of > ${now - 400 * DAY_MS}
      and position(lower(${search}) in lower(concat_ws(' ', c.first_name, c.last_name, o.number))) > 0
    order by o.as_of desc limit ${MOST}`,
  )
  return rows.map(({ customerId, name, orderId, number, totalMinor, currency, at }) => ({
    customerId,
    subjectId: subject === 'order' ? orderId : null,
    line: null,
    name,
    about:
      subject === 'order'
        ? `Order ${number}, ${formatMoney({ amountMinor: totalMinor, currency }, shop.locale)}`
        : '',
    at,
  }))
}
