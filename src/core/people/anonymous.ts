import type { EventData } from '../events/cloudEvent.ts'

/** Gives what is named by an id another name, the same each time. */
export type Rename = (id: string) => string

/**
 * What is left of an event once the person it is about is erased: what was bought, for how much, how many stars; nothing by
 * which anybody is found again. Still an event that every count reads as before.
 */
export function anonymousData(data: EventData, rename: Rename): EventData {
  const { customer: _customer, ...rest } = data
  if ('order' in rest) {
    const { order } = rest
    const { id, customerId, currency, totalMinor, shippingCountry, paymentMethod, couponCodes } =
      order
    const lines = order.lines.map(({ variant: _variant, ...line }) => line)
    const kept = {
      id: rename(id),
      number: rename(id),
      customerId: rename(customerId),
      currency,
      totalMinor,
      shippingCountry,
      paymentMethod,
      couponCodes,
      lines,
    }
    return { ...rest, order: kept }
  }
  if ('basket' in rest) return { basket: cartOf(rest.basket, rename) }
  if ('checkout' in rest) return { checkout: cartOf(rest.checkout, rename) }
  if ('subscription' in rest) {
    const { url: _url, id, customerId, ...kept } = rest.subscription
    return { ...rest, subscription: { ...kept, id: rename(id), customerId: rename(customerId) } }
  }
  if ('review' in rest) {
    const { text: _text, id, customerId, orderId, ...kept } = rest.review
    const about = orderId ? { orderId: rename(orderId) } : {}
    return { review: { ...kept, id: rename(id), customerId: rename(customerId), ...about } }
  }
  if ('product' in rest)
    return { product: { ...rest.product, customerId: rename(rest.product.customerId) } }
  if ('consent' in rest) {
    const { channel, given, customerId } = rest.consent
    return { consent: { channel, given, customerId: rename(customerId) } }
  }
  if ('message' in rest) {
    const { id, permanent, customerId } = rest.message
    return { message: { id, permanent, customerId: rename(customerId) } }
  }
  // Only the customer was told of.
  return { customer: { id: rename((data as { customer: { id: string } }).customer.id) } }
}

type Cart = Extract<EventData, { basket: unknown }>['basket']

function cartOf(cart: Cart, rename: Rename): Cart {
  const { id, customerId, currency, totalMinor, lines } = cart
  return { id: rename(id), customerId: rename(customerId), currency, totalMinor, lines }
}

/** Facts that say who somebody is, or what they have written. */
const TELLING =
  /^(customer\.(email|phone|firstName|lastName|birthday|property\..*|zone)|order\.(number|shippingRegion)|review\.text)$/
/** Where entries keep addresses, words, and what workflows noted of somebody. */
const TELLING_KEYS: ReadonlySet<string> = new Set([
  'to',
  'error',
  'how',
  'address',
  'properties',
  'tags',
  'lists',
])

/** What is left of a ledger entry: what was decided and why, without the values that tell of whom. */
export function anonymousEntry(entry: unknown): unknown {
  if (Array.isArray(entry)) return entry.map(anonymousEntry)
  if (typeof entry !== 'object' || entry === null) return entry
  const isTold = 'field' in entry && 'value' in entry && TELLING.test(String(entry.field))
  return Object.fromEntries(
    Object.entries(entry).map(([key, value]: [string, unknown]) => {
      if (isTold && key === 'value') return [key, null]
      if (TELLING_KEYS.has(key) && typeof value === 'string') return [key, '']
      if (TELLING_KEYS.has(key) && typeof value === 'object' && value !== null) return [key, Array.isArray(value) ? [] : {}]
      return [key, anonymousEntry(value)]
    }),
  )
} // prettier-ignore
