import type { CustomerChannel, Reachable } from '../channels/catalogue.ts'
import type { Duration } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import type { YearDay } from '../shared/yearDay.ts'
import { zoneOfPlace } from '../shared/placeZones.ts'
import type { OrderData, OrderStatus, SubscriptionStatus } from './entities.ts'
import type { EventType, SubjectKind } from './eventTypes.ts'
import type { ExpectedReorder } from './reorder.ts'

/** What is known of a customer. `null` means unknown, never "no". */
export interface CustomerFacts {
  id: string
  email: string | null
  firstName: string | null
  lastName: string | null
  phone: string | null
  /** How they are reached by each channel; for text messages the number as E.164 has it. */
  channels: Readonly<Record<CustomerChannel, Reachable>>
  zone: string | null
  country: string | null
  language: string | null
  birthday: YearDay | null
  createdAt: Instant | null
  lastOrderAt: Instant | null
  tags: readonly string[]
  lists: readonly string[]
  properties: Readonly<Record<string, string>>
  /** No marketing from any workflow before that: somebody of the shop asked for it. Left out: none. */
  quietUntil?: Instant | null
}

/** A line of an order or basket; also the product of a view, a review or a subscription. */
export interface LineFacts {
  productId: string
  title: string
  category: string | null
  tags: readonly string[]
  quantity: number
  unitPriceMinor: number | null
  currency: string | null
  startsAt: Instant | null
  /** When it will be bought again; null where that is not known, or has happened. */
  reorder: ExpectedReorder | null
  /** Which kind of it was taken: "2 kg". This and what follows is only shown, and never asked about. */
  variant?: string | null
  url?: string | null
  imageUrl?: string | null
}

/** What is only shown of an order, and never asked about. */
export type OrderDetails = Pick<OrderData, 'amounts' | 'shippingAddress' | 'billingAddress'>

/** What is known of an order. */
export interface OrderFacts {
  id: string
  number: string
  status: OrderStatus
  currency: string
  totalMinor: number
  placedAt: Instant | null
  shippingCountry: string | null
  shippingRegion: string | null
  paymentMethod: string | null
  trackingUrl: string | null
  couponCodes: readonly string[]
  details: OrderDetails
  lines: readonly LineFacts[]
}

/** What is known of a basket or a checkout. */
export interface CartFacts {
  id: string
  currency: string
  totalMinor: number
  url: string | null
  startedAt: Instant | null
  lines: readonly LineFacts[]
}

export interface SubscriptionFacts {
  id: string
  status: SubscriptionStatus
  product: LineFacts
  interval: string
  automatic: boolean | null
  paymentMethod: string | null
  startedAt: Instant | null
  nextPaymentAt: Instant | null
  endsAt: Instant | null
  trialEndsAt: Instant | null
  url: string | null
}

export interface ReviewFacts {
  id: string
  stars: number
  text: string | null
  orderId: string | null
  product: LineFacts | null
}

/** What an event, or a run, is about. All are null for events about the customer alone. */
export interface EntityFacts {
  order: OrderFacts | null
  /** One line of the order, for a run per line; the product of a view, review or subscription. */
  line: LineFacts | null
  checkout: CartFacts | null
  basket: CartFacts | null
  subscription: SubscriptionFacts | null
  review: ReviewFacts | null
}

/** One event of a customer's past, as history conditions count it. */
export interface PastEvent {
  type: EventType
  at: Instant
  subjectId: string | null
  /** What it was about; only where a condition asks for it. */
  entity?: EntityFacts
}

/** An entry of the customer into a workflow. The run that asks is never among them. */
export interface PastEntry {
  workflowId: string
  enteredAt: Instant
  inProgress: boolean
}

/** A message the customer got, or is about to get because it has been decided. */
export interface PastMessage {
  workflowId: string
  runId: number | null
  step: string
  at: Instant
  marketing: boolean
  /** How it left, or is about to. */
  channel?: CustomerChannel
  openedAt: Instant | null
  clickedAt: Instant | null
}

/** A code that was issued to the customer in this run. */
export interface CouponFacts {
  step: string
  code: string
  expiresAt: Instant | null
}

/** Local hours between which no marketing leaves: from 21:00 to 08:00. */
export interface QuietHours {
  from: string
  to: string
}

/** At most so many marketing messages to one person in so many days: by one channel, or by all together. */
export interface MessageCap {
  channel: CustomerChannel | 'all'
  most: number
  /** Each of 24 hours, counted back from the moment of asking. */
  days: number
}

/** Some people, drawn by lot, get no marketing at all, so that it is seen what marketing causes. */
export interface ShopHoldout {
  /** Of a hundred people, so many. */
  percent: number
  /** From when on; each holdout has a draw of its own. */
  since: Instant
  /** Only among those on this list; left out: among everybody. */
  list?: string
}

/** The shop, as far as the core asks about it. */
export interface ShopFacts {
  name: string
  zone: string
  currency: string
  locale: string
  /** The least time between two marketing messages to one person, over all workflows. */
  messageGap: Duration | null
  /** Left out: none. */
  caps?: MessageCap[]
  quietHours: QuietHours | null
  /** Null where everybody may get marketing. */
  holdout: ShopHoldout | null
  /** Where staff look at an order, with {id} in the place of its id; null where that is not said. */
  backOfficeUrl: string | null
  /** Where customers look at an order of theirs, with {id} or {number} in its place. */
  orderPageUrl?: string | null
}

/**
 * Everything the interpreter may know about one run at one moment. Drivers supply it; the core never
 * fetches. `history`, `entries` and `messages` hold what the program asks for, in any order.
 */
export interface Facts extends EntityFacts {
  now: Instant
  shop: ShopFacts
  /** The run that asks. */
  self: { workflowId: string; runId: number | null }
  subject: { kind: SubjectKind; id: string | null }
  customer: CustomerFacts
  history: readonly PastEvent[]
  entries: readonly PastEntry[]
  messages: readonly PastMessage[]
  coupons: readonly CouponFacts[]
}

/**
 * The zone local times are reckoned in for a person: their own; else that of the place the order goes
 * to, where the place has only one; else the shop's.
 */
export function zoneOf(facts: Pick<Facts, 'customer' | 'shop' | 'order'>): string {
  const { customer, order, shop } = facts
  if (customer.zone !== null) return customer.zone
  const country = order?.shippingCountry ?? customer.country
  const region = order?.shippingCountry ? order.shippingRegion : null
  return (country !== null && zoneOfPlace(country, region)) || shop.zone
}
