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
import { REORDER_BASES } from '../events/reorder.ts'
import type { Money } from '../shared/money.ts'

export type FieldValue = string | number | boolean | Money | readonly string[] | null

/** A `yearDay` comes every year: a birthday. */
export type FieldType =
  'money' | 'number' | 'text' | 'choice' | 'yesNo' | 'list' | 'date' | 'yearDay'

/** What must be there for a field to have a value. */
export type FieldOwner = keyof EntityFacts | 'customer'

/** Where a field's values come from, so that an editor can offer them. */
export type ValueSource = 'products' | 'categories' | 'countries' | 'tags' | 'lists'

/** How a field stands in a message: as the merge field `<owner>.<name>`. */
export interface Printed {
  name: string
  /** Where it is called otherwise than in conditions. */
  label?: string
  /** Known of every subject of its kind, so that no fallback is needed. */
  always?: boolean
  /** What reads well in its place where it is unknown; none where only the shop can say. */
  suggestion?: string
  /** Dates: a day by the recipient's calendar, or day and hour by the shop's clock. */
  date?: 'day' | 'shopTime'
  /** It is meant to be read in paragraphs. */
  lines?: boolean
}

/**
 * One thing that is known of somebody or something. The single catalogue for validation, the editor,
 * the words of conditions, merge fields (with `messages/mergeFields.ts`) and docs/fields.md.
 */
export interface Field {
  key: string
  label: string
  type: FieldType
  about: FieldOwner
  /** For `choice`: value to label. */
  choices?: Readonly<Record<string, string>>
  values?: ValueSource
  /** Left out for what is only asked about. */
  printed?: Printed
  read: (facts: Facts) => FieldValue
}

type Extra = Pick<Field, 'choices' | 'values' | 'printed'>

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

/** A merge field of this name that is always known. */
const as = (name: string, over: Omit<Printed, 'name'> = {}): Extra => ({
  printed: { name, always: true, ...over },
})
/** A merge field of this name that may be unknown. */
const maybe = (name: string, over: Omit<Printed, 'name'> = {}): Extra => ({
  printed: { name, ...over },
})
const DAY = { date: 'day' } as const
const SHOP_TIME = { date: 'shopTime' } as const

const PRODUCTS = { values: 'products' } as const
const CATEGORIES = { values: 'categories' } as const
const COUNTRIES = { values: 'countries' } as const
const TAGS = { values: 'tags' } as const

const totalOf = (entity: { totalMinor: number; currency: string }): Money => ({
  amountMinor: entity.totalMinor,
  currency: entity.currency,
})
const itemsOf = (entity: { lines: readonly LineFacts[] }): number =>
  entity.lines.reduce((sum, { quantity }) => sum + quantity, 0)
const categoriesOf = (entity: { lines: readonly LineFacts[] }): string[] =>
  unique(entity.lines, ({ category }) => category)
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
    cart('total', `${about} total`, 'money', totalOf, as('total')),
    cart('categories', `categories in the ${about}`, 'list', categoriesOf, CATEGORIES),
    cart('products', `products in the ${about}`, 'list', productsOf, PRODUCTS),
    cart('items', `number of items in the ${about}`, 'number', itemsOf),
    cart('currency', `${about} currency`, 'text', ({ currency }) => currency),
    cart('startedAt', `start of the ${about}`, 'date', ({ startedAt }) => startedAt),
  ]
}

export const FIELDS: readonly Field[] = [
  order('total', 'order total', 'money', totalOf, as('total')),
  order('categories', 'categories ordered', 'list', categoriesOf, CATEGORIES),
  order('products', 'products ordered', 'list', productsOf, PRODUCTS),
  order('tags', 'tags of products ordered', 'list', (o) => unique(o.lines.flatMap(({ tags }) => tags), (tag) => tag), TAGS),
  order('items', 'number of items', 'number', itemsOf),
  order('status', 'order status', 'choice', (o) => o.status, { choices: ORDER_STATUSES }),
  order('placedAt', 'date of the order', 'date', (o) => o.placedAt, maybe('placed_on', SHOP_TIME)),
  order('firstDate', 'first booked date', 'date', firstDate, maybe('first_date', { ...SHOP_TIME, suggestion: 'the day you booked' })),
  order('shippingCountry', 'delivery country', 'text', (o) => o.shippingCountry, COUNTRIES),
  order('shippingRegion', 'delivery region', 'text', (o) => o.shippingRegion),
  order('paymentMethod', 'payment method', 'text', (o) => o.paymentMethod),
  order('couponCodes', 'coupon codes used', 'list', (o) => o.couponCodes),
  order('number', 'order number', 'text', (o) => o.number, as('number')),
  order('currency', 'order currency', 'text', (o) => o.currency),
  line('product', 'product', 'text', (l) => l.productId, PRODUCTS),
  line('category', 'category', 'text', (l) => l.category, CATEGORIES),
  line('tags', 'product tags', 'list', (l) => l.tags, TAGS),
  line('title', 'product title', 'text', (l) => l.title, as('title', { label: 'product' })),
  line('quantity', 'quantity', 'number', (l) => l.quantity, as('quantity')),
  line('price', 'unit price', 'money', priceOf, maybe('price')),
  line('startsAt', 'booked date', 'date', (l) => l.startsAt, maybe('starts_at', { ...SHOP_TIME, suggestion: 'the day you booked' })),
  line('reorderAt', 'expected reorder', 'date', (l) => l.reorder?.at ?? null, maybe('reorder_on', { ...DAY, label: 'day of the expected reorder', suggestion: 'soon' })),
  line('reorderBasis', 'expected reorder reckoned from', 'choice', (l) => l.reorder?.by ?? null, { choices: REORDER_BASES }),
  line('reorderSpan', 'days between which four in five reorder', 'number', (l) => (l.reorder ? l.reorder.late - l.reorder.soon : null)),
  line('reorderShare', 'how many in a hundred reorder it', 'number', (l) => l.reorder?.again ?? null),
  ...cartFields('checkout'),
  ...cartFields('basket'),
  subscription('status', 'subscription status', 'choice', (s) => s.status, { choices: SUBSCRIPTION_STATUSES }),
  subscription('product', 'product subscribed to', 'text', (s) => s.product.productId, PRODUCTS),
  subscription('amount', 'subscription amount', 'money', (s) => priceOf(s.product), as('amount', { label: 'amount' })),
  subscription('interval', 'paid every', 'text', (s) => s.interval, as('interval')),
  subscription('automatic', 'renews automatically', 'yesNo', (s) => s.automatic),
  subscription('paymentMethod', 'payment method of the subscription', 'text', (s) => s.paymentMethod, maybe('payment_method', { label: 'payment method', suggestion: 'the method you chose' })),
  subscription('startedAt', 'start of the subscription', 'date', (s) => s.startedAt),
  subscription('nextPaymentAt', 'next payment', 'date', (s) => s.nextPaymentAt, maybe('next_payment_on', { ...DAY, label: 'date of the next payment', suggestion: 'its usual day' })),
  subscription('endsAt', 'end of the subscription', 'date', (s) => s.endsAt, maybe('ends_on', { ...DAY, suggestion: 'its last day' })),
  subscription('trialEndsAt', 'end of the trial', 'date', (s) => s.trialEndsAt, maybe('trial_ends_on', { ...DAY, suggestion: 'its last day' })),
  review('stars', 'stars given', 'number', (r) => r.stars, as('stars')),
  review('text', 'text of the review', 'text', (r) => r.text, maybe('text', { suggestion: 'no words', lines: true })),
  review('product', 'product reviewed', 'text', (r) => r.product?.productId ?? null, PRODUCTS),
  customer('emailConsent', 'consent to marketing by email', 'yesNo', (c) => c.channels.email.consent),
  customer('smsConsent', 'consent to marketing by text message', 'yesNo', (c) => c.channels.sms.consent),
  customer('tags', 'customer’s tags', 'list', (c) => c.tags, TAGS),
  customer('lists', 'customer’s lists', 'list', (c) => c.lists, { values: 'lists' }),
  customer('country', 'customer’s country', 'text', (c) => c.country, COUNTRIES),
  customer('language', 'language', 'text', (c) => c.language),
  customer('zone', 'time zone', 'text', (c) => c.zone),
  customer('birthday', 'birthday', 'yearDay', (c) => c.birthday),
  customer('createdAt', 'customer since', 'date', (c) => c.createdAt),
  customer('lastOrderAt', 'last order', 'date', (c) => c.lastOrderAt),
  customer('email', 'email address', 'text', (c) => c.email, as('email')),
  customer('phone', 'phone number', 'text', (c) => c.phone, maybe('phone', { suggestion: 'not known' })),
  customer('firstName', 'first name', 'text', (c) => c.firstName, maybe('first_name', { suggestion: 'there' })),
  customer('lastName', 'last name', 'text', (c) => c.lastName, maybe('last_name')),
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
