import { subjectIdOf, type EventData } from '../events/cloudEvent.ts'
import type { CustomerData, OrderLineData } from '../events/entities.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { ToldEvent } from '../life/lived.ts'
import { DAY_MS, MINUTE_MS } from '../shared/duration.ts'
import { formatInstant, isZone, parseInstant, type Instant } from '../shared/time.ts'
import type { Trigger } from '../workflow/trigger.ts'
import { HAPPENINGS, subjectSchema, type Happening, type HappeningKind, type Subject } from '../workflow/rehearsalSubject.ts' // prettier-ignore
import { startType, typeOf } from './events.ts'

/** An occasion of somebody real at which a workflow could have begun, and somebody made up who is like them. */
export interface Likeness {
  /** The event it begins with. */
  event: string
  type: EventType
  at: Instant
  /** The order's number or the like; null where it has none. */
  number: string | null
  subject: Subject
}

/** More occasions than these are not offered. */
const MOST = 12
const MOST_EARLIER = 50
const MOST_BETWEEN = 100
const MOST_LINES = 20

/**
 * Somebody made up for each occasion of somebody real, newest first: with what they had ordered by then, what they had
 * agreed to, where they live, and what happened to them afterwards. Names and addresses stay behind, so that an example
 * of it may be kept. `events` in order of time.
 */
export function likenesses(events: readonly ToldEvent[], trigger: Trigger): Likeness[] {
  const type = startType(trigger) ?? 'order.placed'
  return events
    .filter(({ event }) => event.type === type)
    .slice(-MOST)
    .toReversed()
    .flatMap((start) => {
      const subject = subjectSchema.safeParse(likenessOf(events, start))
      const { id } = start.event
      return subject.success ? [{ event: id, type, at: start.at, number: numberOf(start.event.data), subject: subject.data }] : [] // prettier-ignore
    })
}

const numberOf = (data: EventData): string | null => ('order' in data ? data.order.number : null)

function likenessOf(events: readonly ToldEvent[], start: ToldEvent): unknown {
  const { at } = start
  const before = events.filter((one) => one.at < at)
  const upTo = [...before, start]
  const about = subjectIdOf(start.event.data)
  const placed = before.filter(({ event }) => event.type === 'order.placed' && subjectIdOf(event.data) !== about) // prettier-ignore
  return {
    at: formatInstant(at),
    customer: customerAt(upTo),
    earlier: placed.slice(-MOST_EARLIER).map((order) => ({
      daysBefore: (at - order.at) / DAY_MS,
      lines: linesOf(order.event.data),
    })),
    lines: linesOf(start.event.data),
    stars: 'review' in start.event.data ? start.event.data.review.stars : 5,
    dateInDays: dateInDays(start),
    between: betweenOf(events, start, about),
  }
}

/** Who they were by then, without their name and addresses. */
function customerAt(events: readonly ToldEvent[]): Subject['customer'] {
  const told = events.flatMap(({ event: { data } }) => ('customer' in data && data.customer ? data.customer : [])) // prettier-ignore
  const last = <Key extends keyof CustomerData>(key: Key): CustomerData[Key] | null =>
    told.findLast((one) => one[key] !== null && one[key] !== undefined)?.[key] ?? null
  const said = (channel: string): boolean | null => {
    const words = events.flatMap(({ event: { data } }) => ('consent' in data && data.consent.channel === channel ? data.consent.given : [])) // prettier-ignore
    return words.at(-1) ?? null
  }
  const zone = last('zone') ?? null
  return {
    firstName: '',
    country: last('country') ?? null,
    zone: zone !== null && isZone(zone) ? zone : null,
    emailConsent: said('email') ?? last('emailConsent') ?? null,
    smsConsent: said('sms') ?? last('smsConsent') ?? null,
    ...(!last('email') && { hasEmail: false }),
    hasPhone: Boolean(last('phone')),
    tags: last('tags') ?? [],
  }
}

function linesOf(data: EventData): Subject['lines'] {
  const line = ({ productId, title, category, quantity, unitPriceMinor }: OrderLineData) => ({
    productId,
    title,
    category: category ?? null,
    quantity,
    unitPriceMinor: Math.max(0, unitPriceMinor),
  })
  if ('order' in data) return data.order.lines.slice(0, MOST_LINES).map(line)
  if ('basket' in data) return data.basket.lines.slice(0, MOST_LINES).map(line)
  if ('checkout' in data) return data.checkout.lines.slice(0, MOST_LINES).map(line)
  const one = (productId: string, title: string | null | undefined, category: string | null | undefined, unitPriceMinor = 0) => [{ productId, title: title || 'Something', category: category ?? null, quantity: 1, unitPriceMinor }] // prettier-ignore
  if ('subscription' in data) {
    const { productId, title, category, amountMinor } = data.subscription
    return one(productId, title, category, amountMinor)
  }
  if ('review' in data) return one(data.review.productId ?? 'unknown', data.review.title, data.review.category) // prettier-ignore
  if ('product' in data) return one(data.product.productId, data.product.title, data.product.category) // prettier-ignore
  return one('unknown', null, null)
}

/** The date that a workflow may go by: a payment, or what is booked. */
function dateInDays({ at, event: { data } }: ToldEvent): number {
  const dates = [
    ...('subscription' in data ? [data.subscription.nextPaymentAt, data.subscription.endsAt] : []),
    ...('order' in data ? data.order.lines.map(({ startsAt }) => startsAt) : []),
  ].flatMap((date) => (date ? (parseInstant(date) ?? []) : []))
  const next = dates.find((date) => date > at)
  return next === undefined ? 30 : (next - at) / DAY_MS
}

/** By the type that tells of it; changes of status and consent say more than their type. */
const KINDS = new Map<EventType, HappeningKind>(
  HAPPENINGS.filter(
    (what) =>
      ![
        'saysYes',
        'saysNo',
        'subscriptionPaused',
        'subscriptionCancelled',
        'subscriptionEnded',
      ].includes(what),
  ) // prettier-ignore
    .map((what) => [typeOf(what), what]),
)
const ENDED: Readonly<Record<string, HappeningKind>> = {
  paused: 'subscriptionPaused',
  cancelled: 'subscriptionCancelled',
  ended: 'subscriptionEnded',
}

function kindOf({ event: { type, data } }: ToldEvent): HappeningKind | undefined {
  if ('consent' in data && data.consent.channel === 'email') return data.consent.given ? 'saysYes' : 'saysNo' // prettier-ignore
  if (type === 'subscription.status_changed' && 'subscription' in data) return ENDED[data.subscription.status] // prettier-ignore
  return KINDS.get(type)
}

function betweenOf(
  events: readonly ToldEvent[],
  start: ToldEvent,
  about: string | null,
): Happening[] {
  const later = events.filter((one) => one.at > start.at || (one.at === start.at && events.indexOf(one) > events.indexOf(start))) // prettier-ignore
  return later
    .flatMap((one, index): Happening[] => {
      const what = kindOf(one)
      const { data, type } = one.event
      // Of another order only that it was placed means anything to this one.
      const isOther = 'order' in data && subjectIdOf(data) !== about
      if (!what || (isOther && type !== 'order.placed')) return []
      const afterMinutes = Math.ceil((one.at - start.at) / MINUTE_MS)
      return [{ key: `real-${index}`, what, afterMinutes, ...('review' in data && { stars: data.review.stars }) }] // prettier-ignore
    })
    .slice(0, MOST_BETWEEN)
}
