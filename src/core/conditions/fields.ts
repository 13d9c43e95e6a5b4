import { ORDER_STATUSES, SUBSCRIPTION_STATUSES } from '../events/entities.ts'
import type {
  CartFacts,
  CustomerFacts,
  EntityFacts,
  Facts,
  LineFacts,
  OrderFacts,
  ReviewFacts,
  SubscriptionFacts,
} from '../events/facts.ts'
import type { Money } from '../shared/money.ts'

export type FieldValue = string | number | boolean | Money | readonly string[] | null

export type FieldType = 'money' | 'number' | 'text' | 'choice' | 'yesNo' | 'list' | 'date'

/** What must be there for a field to have a value. */
export type FieldOwner = keyof EntityFacts | 'customer'

/** Where a field's values come from, so that an editor can offer them. */
export type ValueSource = 'products' | 'collections' | 'countries' | 'tags' | 'lists'

/** One thing a condition can ask about. The single catalogue for validation, editor and words. */
export interface Field {
  key: string
  label: string
  type: FieldType
  about: FieldOwner
  /** For `choice`: value to label. */
  choices?: Readonly<Record<string, string>>
  values?: ValueSource
  read: (facts: Facts) => FieldValue
}

type Extra = Pick<Field, 'choices' | 'values'>

/** Makes the fields of one entity from a read function each; unknown where there is no entity. */
function owner<Entity>(about: FieldOwner, pick: (facts: Facts) => Entity | null) {
  return (
    name: string,
    label: string,
    type: FieldType,
    read: (entity: Entity) => FieldValue,
    extra: Extra = {},
  ): Field => ({
    key: `${about}.${name}`,
    label,
    type,
    about,
    ...extra,
    read: (facts) => {
      const entity = pick(facts)
      return entity === null ? null : read(entity)
    },
  })
}

/** What the lines say, each thing once. Asked for every event and message, so without detours. */
function unique<Item>(items: readonly Item[], nameOf: (item: Item) => string | null): string[] {
  const found: string[] = []
  for (const item of items) {
    const name = nameOf(item)
    if (name !== null && !found.includes(name)) found.push(name)
  }
  return found
}

const order = owner<OrderFacts>('order', (facts) => facts.order)
const line = owner<LineFacts>('line', (facts) => facts.line)
const subscription = owner<SubscriptionFacts>('subscription', (facts) => facts.subscription)
const review = owner<ReviewFacts>('review', (facts) => facts.review)
const customer = owner<CustomerFacts>('customer', (facts) => facts.customer)

const PRODUCTS = { values: 'products' } as const
const COLLECTIONS = { values: 'collections' } as const
const COUNTRIES = { values: 'countries' } as const
const TAGS = { values: 'tags' } as const

const totalOf = (entity: { totalMinor: number; currency: string }): Money => ({
  amountMinor: entity.totalMinor,
  currency: entity.currency,
})
const itemsOf = (entity: { lines: readonly LineFacts[] }): number =>
  entity.lines.reduce((sum, { quantity }) => sum + quantity, 0)
const collectionsOf = (entity: { lines: readonly LineFacts[] }): string[] =>
  unique(entity.lines, ({ collection }) => collection)
const productsOf = (entity: { lines: readonly LineFacts[] }): string[] =>
  unique(entity.lines, ({ productId }) => productId)

/** The earliest booked date among the lines, or null. */
function firstDate({ lines }: OrderFacts): number | null {
  const dates = lines.flatMap(({ startsAt }) => startsAt ?? [])
  return dates.length === 0 ? null : Math.min(...dates)
}

const priceOf = ({ unitPriceMinor, currency }: LineFacts): Money | null =>
  unitPriceMinor === null || currency === null ? null : { amountMinor: unitPriceMinor, currency }

function cartFields(about: 'checkout' | 'basket'): Field[] {
  const cart = owner<CartFacts>(about, (facts) => facts[about])
  return [
    cart('total', `${about} total`, 'money', totalOf),
    cart('collections', `collections in the ${about}`, 'list', collectionsOf, COLLECTIONS),
    cart('products', `products in the ${about}`, 'list', productsOf, PRODUCTS),
    cart('items', `number of items in the ${about}`, 'number', itemsOf),
    cart('currency', `${about} currency`, 'text', ({ currency }) => currency),
    cart('startedAt', `start of the ${about}`, 'date', ({ startedAt }) => startedAt),
  ]
}

export const FIELDS: readonly Field[] = [
  order('total', 'order total', 'money', totalOf),
  order('collections', 'collections ordered', 'list', collectionsOf, COLLECTIONS),
  order('products', 'products ordered', 'list', productsOf, PRODUCTS),
  order('tags', 'tags of products ordered', 'list', (o) => unique(o.lines.flatMap(({ tags }) => tags), (tag) => tag), TAGS),
  order('items', 'number of items', 'number', itemsOf),
  order('status', 'order status', 'choice', (o) => o.status, { choices: ORDER_STATUSES }),
  order('placedAt', 'date of the order', 'date', (o) => o.placedAt),
  order('firstDate', 'first booked date', 'date', firstDate),
  order('shippingCountry', 'delivery country', 'text', (o) => o.shippingCountry, COUNTRIES),
  order('shippingRegion', 'delivery region', 'text', (o) => o.shippingRegion),
  order('paymentMethod', 'payment method', 'text', (o) => o.paymentMethod),
  order('couponCodes', 'coupon codes used', 'list', (o) => o.couponCodes),
  order('number', 'order number', 'text', (o) => o.number),
  order('currency', 'order currency', 'text', (o) => o.currency),
  line('product', 'product', 'text', (l) => l.productId, PRODUCTS),
  line('collection', 'collection', 'text', (l) => l.collection, COLLECTIONS),
  line('tags', 'product tags', 'list', (l) => l.tags, TAGS),
  line('title', 'product title', 'text', (l) => l.title),
  line('quantity', 'quantity', 'number', (l) => l.quantity),
  line('price', 'unit price', 'money', priceOf),
  line('startsAt', 'booked date', 'date', (l) => l.startsAt),
  ...cartFields('checkout'),
  ...cartFields('basket'),
  subscription('status', 'subscription status', 'choice', (s) => s.status, { choices: SUBSCRIPTION_STATUSES }),
  subscription('product', 'product subscribed to', 'text', (s) => s.product.productId, PRODUCTS),
  subscription('amount', 'subscription amount', 'money', (s) => priceOf(s.product)),
  subscription('interval', 'paid every', 'text', (s) => s.interval),
  subscription('automatic', 'renews automatically', 'yesNo', (s) => s.automatic),
  subscription('paymentMethod', 'payment method of the subscription', 'text', (s) => s.paymentMethod),
  subscription('startedAt', 'start of the subscription', 'date', (s) => s.startedAt),
  subscription('nextPaymentAt', 'next payment', 'date', (s) => s.nextPaymentAt),
  subscription('endsAt', 'end of the subscription', 'date', (s) => s.endsAt),
  subscription('trialEndsAt', 'end of the trial', 'date', (s) => s.trialEndsAt),
  review('stars', 'stars given', 'number', (r) => r.stars),
  review('text', 'text of the review', 'text', (r) => r.text),
  review('product', 'product reviewed', 'text', (r) => r.product?.productId ?? null, PRODUCTS),
  customer('emailConsent', 'consent to marketing by email', 'yesNo', (c) => c.emailConsent),
  customer('smsConsent', 'consent to marketing by text message', 'yesNo', (c) => c.smsConsent),
  customer('tags', 'customer’s tags', 'list', (c) => c.tags, TAGS),
  customer('lists', 'customer’s lists', 'list', (c) => c.lists, { values: 'lists' }),
  customer('country', 'customer’s country', 'text', (c) => c.country, COUNTRIES),
  customer('language', 'language', 'text', (c) => c.language),
  customer('zone', 'time zone', 'text', (c) => c.zone),
  customer('createdAt', 'customer since', 'date', (c) => c.createdAt),
  customer('lastOrderAt', 'last order', 'date', (c) => c.lastOrderAt),
  customer('email', 'email address', 'text', (c) => c.email),
  customer('phone', 'phone number', 'text', (c) => c.phone),
  customer('firstName', 'first name', 'text', (c) => c.firstName),
  customer('lastName', 'last name', 'text', (c) => c.lastName),
] // prettier-ignore

const byKey = new Map(FIELDS.map((field) => [field.key, field]))

const PROPERTY = /^customer\.property\.([a-z][a-z0-9_-]{0,39})$/

/**
 * The catalogue entry of a field, or undefined for a key that is none. Properties of customers are
 * fields too: `customer.property.<name>`.
 */
export function findField(key: string): Field | undefined {
  const known = byKey.get(key)
  if (known) return known
  const name = PROPERTY.exec(key)?.[1]
  if (name === undefined) return undefined
  return customer(
    `property.${name}`,
    `property “${name}”`,
    'text',
    (c) => c.properties[name] ?? null,
  )
}

/** The dates that a trigger or a wait can go by. */
export const DATE_FIELDS: readonly Field[] = FIELDS.filter(({ type }) => type === 'date')
