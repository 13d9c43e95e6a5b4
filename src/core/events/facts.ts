import type { Instant } from '../shared/time.ts'
import type { EventType } from './eventTypes.ts'
import type { OrderStatus } from './entities.ts'

/** What is known of a customer. `null` means unknown, never "no". */
export interface CustomerFacts {
  id: string
  email: string | null
  firstName: string | null
  lastName: string | null
  phone: string | null
  zone: string | null
  country: string | null
  language: string | null
  emailConsent: boolean | null
  smsConsent: boolean | null
  /** Why this person's address must not be written to, if it must not. */
  suppressed: 'unsubscribed' | 'bounced' | 'complained' | null
}

export interface OrderLineFacts {
  productId: string
  title: string
  collection: string | null
  quantity: number
  unitPriceMinor: number
}

/** What is known of an order. */
export interface OrderFacts {
  id: string
  number: string
  status: OrderStatus
  currency: string
  totalMinor: number
  placedAt: Instant | null
  shippingCountry: string | null
  paymentMethod: string | null
  trackingUrl: string | null
  lines: readonly OrderLineFacts[]
}

/** One event of a customer's past, as history conditions count it. */
export interface PastEvent {
  type: EventType
  at: Instant
  orderId: string | null
}

/** The shop, as far as the core asks about it. */
export interface ShopFacts {
  name: string
  zone: string
  currency: string
  locale: string
}

/**
 * Everything the interpreter may know about one run at one moment. Drivers supply it; the core never
 * fetches. `history` holds the customer's events of the types the program counts, in any order.
 */
export interface Facts {
  now: Instant
  shop: ShopFacts
  customer: CustomerFacts
  order: OrderFacts | null
  history: readonly PastEvent[]
}

/** The zone local times are reckoned in for a person: their own, else the shop's. */
export function zoneOf(facts: Pick<Facts, 'customer' | 'shop'>): string {
  return facts.customer.zone ?? facts.shop.zone
}
