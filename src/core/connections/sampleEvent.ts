import { entityOf, type EventType } from '../events/eventTypes.ts'

const CUSTOMER = { id: 'test-customer', email: 'test@example.com', firstName: 'Test' }
const LINE = { productId: 'test-product', title: 'Test product', quantity: 1, unitPriceMinor: 1990 }

/** An event of a type as a shop would send it, about nobody: to begin with, to try, and to show in code. */
export function sampleEvent(
  type: EventType,
  { currency, id, time }: { currency: string; id: string; time: string },
): object {
  const customerId = CUSTOMER.id
  const order = { id: 'test-order', number: 'TEST-1', customerId, currency, totalMinor: 1990, lines: [LINE] }
  const cart = { id: 'test-basket', customerId, currency, totalMinor: 1990, lines: [LINE] }
  const subscription = { id: 'test-subscription', customerId, status: 'running', productId: LINE.productId, title: LINE.title, amountMinor: 1990, currency, interval: 'month', startedAt: time }
  const data = {
    order: { order, customer: CUSTOMER, ...(type === 'order.status_changed' && { to: 'preparing' }) },
    basket: { basket: cart, customer: CUSTOMER },
    checkout: { checkout: { ...cart, id: 'test-checkout' }, customer: CUSTOMER },
    subscription: { subscription, customer: CUSTOMER },
    review: { review: { id: 'test-review', customerId, productId: LINE.productId, title: LINE.title, stars: 5 }, customer: CUSTOMER },
    product: { product: { customerId, productId: LINE.productId, title: LINE.title }, customer: CUSTOMER },
    customer: { customer: CUSTOMER },
    consent: { consent: { customerId, channel: 'email', given: true, how: 'box at the checkout' }, customer: CUSTOMER },
    message: { message: { customerId, address: CUSTOMER.email }, customer: CUSTOMER },
  } as const
  return { specversion: '1.0', id, source: '/test', type, time, data: data[entityOf(type)] }
} // prettier-ignore
