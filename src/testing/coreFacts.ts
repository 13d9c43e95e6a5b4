import type { CustomerChannel, Reachable } from '../core/channels/catalogue.ts'
import { NO_ENTITY } from '../core/events/entityFacts.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import type {
  CustomerFacts,
  Facts,
  LineFacts,
  OrderFacts,
  PastEvent,
  ShopFacts,
} from '../core/events/facts.ts'
import type { Instant } from '../core/shared/time.ts'
import { START } from './builders.ts'

/** An event of the past, as history conditions count it. */
export const past = (
  type: EventType,
  at: Instant,
  subjectId: string | null = 'o1',
  entity?: PastEvent['entity'],
): PastEvent => ({ type, at, subjectId, ...(entity && { entity }) })

/** A line as facts have it, changed as a test wants. */
export const aLine = (over: Partial<LineFacts> = {}): LineFacts => ({
  productId: 'p1',
  title: 'Bee brush',
  category: 'Tools & smokers',
  tags: [],
  quantity: 2,
  unitPriceMinor: 2100,
  currency: 'EUR',
  startsAt: null,
  reorder: null,
  ...over,
})

const CUSTOMER: Omit<CustomerFacts, 'channels'> = {
  id: 'c1',
  email: 'ines@example.org',
  firstName: 'Ines',
  lastName: 'Duarte',
  phone: null,
  zone: 'Europe/Lisbon',
  country: 'PT',
  language: 'pt-PT',
  createdAt: null,
  birthday: null,
  lastOrderAt: null,
  tags: [],
  lists: [],
  properties: {},
}

const ORDER: OrderFacts = {
  id: 'o1',
  number: '1001',
  status: 'placed',
  currency: 'EUR',
  totalMinor: 4200,
  placedAt: START,
  shippingCountry: 'PT',
  shippingRegion: null,
  paymentMethod: 'card',
  trackingUrl: null,
  couponCodes: [],
  details: {},
  lines: [aLine()],
}

const SHOP: ShopFacts = {
  name: 'Combwright',
  zone: 'Europe/Lisbon',
  currency: 'EUR',
  locale: 'en-IE',
  messageGap: null,
  quietHours: null,
  holdout: null,
  backOfficeUrl: null,
}

type Over = Partial<Omit<Facts, 'customer' | 'order' | 'shop'>> & {
  customer?: Partial<Omit<CustomerFacts, 'channels'>>
  /** How she is reached; by email at her address, with her consent, unless it says otherwise. */
  channels?: { [Channel in CustomerChannel]?: Partial<Reachable> }
  order?: Partial<OrderFacts> | null
  shop?: Partial<ShopFacts>
}

/** Facts about Ines and her order of EUR 42.00, changed as a test wants. */
export function facts({ customer, channels, order, shop, ...over }: Over = {}): Facts {
  const { email } = { ...CUSTOMER, ...customer }
  return {
    ...NO_ENTITY,
    now: START,
    self: { workflowId: 'w1', runId: 1 },
    subject: { kind: 'order', id: order === null ? null : (order?.id ?? 'o1') },
    history: [],
    entries: [],
    messages: [],
    coupons: [],
    ...over,
    shop: { ...SHOP, ...shop },
    customer: {
      ...CUSTOMER,
      ...customer,
      channels: {
        email: { address: email, consent: true, suppressed: null, ...channels?.email },
        sms: { address: null, consent: null, suppressed: null, ...channels?.sms },
      },
    },
    order: order === null ? null : { ...ORDER, ...order },
  }
}
