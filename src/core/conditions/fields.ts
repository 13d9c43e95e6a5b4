import { ORDER_STATUSES } from '../events/entities.ts'
import type { CustomerFacts, Facts, OrderFacts } from '../events/facts.ts'
import type { Money } from '../shared/money.ts'

export type FieldValue = string | number | boolean | Money | readonly string[] | null

export type FieldType = 'money' | 'number' | 'text' | 'choice' | 'yesNo' | 'list'

/** One thing a condition can ask about. The single catalogue for validation, editor and words. */
export interface Field {
  key: string
  label: string
  type: FieldType
  /** What must be there for the field to have a value. */
  about: 'order' | 'customer'
  /** For `choice`: value to label. */
  choices?: Readonly<Record<string, string>>
  /** For `text` and `list`: which of the shop's records the values are ids of. */
  values?: 'products' | 'collections' | 'countries'
  read: (facts: Facts) => FieldValue
}

type FieldSpec = Omit<Field, 'about' | 'read'>

const order = (spec: FieldSpec, read: (order: OrderFacts) => FieldValue): Field => ({
  ...spec,
  about: 'order',
  read: (facts) => (facts.order ? read(facts.order) : null),
})

const customer = (spec: FieldSpec, read: (customer: CustomerFacts) => FieldValue): Field => ({
  ...spec,
  about: 'customer',
  read: (facts) => read(facts.customer),
})

const unique = (values: readonly (string | null)[]): string[] => [
  ...new Set(values.filter((value) => value !== null)),
]

export const FIELDS: readonly Field[] = [
  order({ key: 'order.total', label: 'order total', type: 'money' }, (o) => ({
    amountMinor: o.totalMinor,
    currency: o.currency,
  })),
  order(
    { key: 'order.collections', label: 'collections ordered', type: 'list', values: 'collections' },
    (o) => unique(o.lines.map((line) => line.collection)),
  ),
  order(
    { key: 'order.products', label: 'products ordered', type: 'list', values: 'products' },
    (o) => unique(o.lines.map((line) => line.productId)),
  ),
  order({ key: 'order.items', label: 'number of items', type: 'number' }, (o) =>
    o.lines.reduce((sum, line) => sum + line.quantity, 0),
  ),
  order(
    { key: 'order.status', label: 'order status', type: 'choice', choices: ORDER_STATUSES },
    (o) => o.status,
  ),
  order(
    { key: 'order.shippingCountry', label: 'delivery country', type: 'text', values: 'countries' },
    (o) => o.shippingCountry,
  ),
  order(
    { key: 'order.paymentMethod', label: 'payment method', type: 'text' },
    (o) => o.paymentMethod,
  ),
  order({ key: 'order.number', label: 'order number', type: 'text' }, (o) => o.number),
  order({ key: 'order.currency', label: 'order currency', type: 'text' }, (o) => o.currency),
  customer(
    { key: 'customer.emailConsent', label: 'consent to marketing by email', type: 'yesNo' },
    (c) => c.emailConsent,
  ),
  customer(
    { key: 'customer.country', label: 'customer’s country', type: 'text', values: 'countries' },
    (c) => c.country,
  ),
  customer({ key: 'customer.language', label: 'language', type: 'text' }, (c) => c.language),
  customer({ key: 'customer.zone', label: 'time zone', type: 'text' }, (c) => c.zone),
  customer({ key: 'customer.email', label: 'email address', type: 'text' }, (c) => c.email),
  customer({ key: 'customer.firstName', label: 'first name', type: 'text' }, (c) => c.firstName),
  customer({ key: 'customer.lastName', label: 'last name', type: 'text' }, (c) => c.lastName),
]

const byKey = new Map(FIELDS.map((field) => [field.key, field]))

/** The catalogue entry of a field, or undefined for a key that is none. */
export function findField(key: string): Field | undefined {
  return byKey.get(key)
}
