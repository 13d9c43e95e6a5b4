import type { EventType } from '../core/events/eventTypes.ts'
import type { CustomerFacts, Facts, OrderFacts, PastEvent } from '../core/events/facts.ts'
import type { Instant } from '../core/shared/time.ts'
import { START } from './builders.ts'

/** An event of the past, as history conditions count it. */
export const past = (type: EventType, at: Instant, orderId: string | null = 'o1'): PastEvent => ({
  type,
  at,
  orderId,
})

interface Over {
  now?: Instant
  customer?: Partial<CustomerFacts>
  order?: Partial<OrderFacts> | null
  history?: PastEvent[]
}

/** Facts about Ines and her order of EUR 42.00, changed as a test wants. */
export function facts(over: Over = {}): Facts {
  const customer: CustomerFacts = {
    id: 'c1',
    email: 'ines@example.org',
    firstName: 'Ines',
    lastName: 'Duarte',
    phone: null,
    zone: 'Europe/Lisbon',
    country: 'PT',
    language: 'pt-PT',
    emailConsent: true,
    smsConsent: null,
    suppressed: null,
  }
  const order: OrderFacts = {
    id: 'o1',
    number: '1001',
    status: 'placed',
    currency: 'EUR',
    totalMinor: 4200,
    placedAt: START,
    shippingCountry: 'PT',
    paymentMethod: 'card',
    trackingUrl: null,
    lines: [
      {
        productId: 'p1',
        title: 'Bee brush',
        collection: 'Tools & smokers',
        quantity: 2,
        unitPriceMinor: 2100,
      },
    ],
  }
  return {
    now: over.now ?? START,
    shop: { name: 'Combwright', zone: 'Europe/Lisbon', currency: 'EUR', locale: 'en-IE' },
    customer: { ...customer, ...over.customer },
    order: over.order === null ? null : { ...order, ...over.order },
    history: over.history ?? [],
  }
}
