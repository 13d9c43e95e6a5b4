import type { EventType } from '../events/eventTypes.ts'
import { isOrderEvent } from '../events/eventTypes.ts'
import type { Facts } from '../events/facts.ts'
import { formatMoney } from '../shared/money.ts'
import { dateWords } from '../words/quantities.ts'

/** A placeholder that can stand in a subject, preview text or body. */
export interface MergeField {
  key: string
  label: string
  about: 'customer' | 'order' | 'shop'
  /** Never empty for a subject of this kind, so no fallback is needed. */
  alwaysFilled: boolean
}

const mergeField = (
  about: MergeField['about'],
  name: string,
  label: string,
  alwaysFilled: boolean,
): MergeField => ({ key: `${about}.${name}`, label, about, alwaysFilled })

export const MERGE_FIELDS: readonly MergeField[] = [
  mergeField('customer', 'first_name', 'first name', false),
  mergeField('customer', 'last_name', 'last name', false),
  mergeField('customer', 'email', 'email address', true),
  mergeField('order', 'number', 'order number', true),
  mergeField('order', 'total', 'order total', true),
  mergeField('order', 'items', 'items, one per line', true),
  mergeField('order', 'placed_on', 'date of the order', false),
  mergeField('order', 'tracking_url', 'tracking link', false),
  mergeField('shop', 'name', 'shop name', true),
]

/** The merge fields that a workflow with this trigger can fill. */
export function mergeFieldsFor(trigger: EventType): MergeField[] {
  return MERGE_FIELDS.filter(({ about }) => about !== 'order' || isOrderEvent(trigger))
}

/** A merge field as it is used in a template. */
export interface UsedMergeField {
  key: string
  hasFallback: boolean
}

const OUTPUT_TAG = /\{\{-?\s*([a-zA-Z_][\w.]*)\s*([^}]*?)-?\}\}/g

/** The merge fields a template prints, in order of appearance. */
export function usedMergeFields(template: string): UsedMergeField[] {
  return [...template.matchAll(OUTPUT_TAG)].map((match) => ({
    key: match[1] ?? '',
    hasFallback: /\|\s*default\s*:/.test(match[2] ?? ''),
  }))
}

/** A template for reading at a glance: merge fields as "[first name]", other tags left out. */
export function readableTemplate(template: string): string {
  return template
    .replaceAll(OUTPUT_TAG, (_tag, key: string) => {
      const field = MERGE_FIELDS.find((one) => one.key === key)
      return `[${field?.label ?? key}]`
    })
    .replaceAll(/\{%.*?%\}/g, '')
}

/** The values behind the merge fields for one recipient. Plain text; escaping is the template's. */
export function mergeValues(facts: Facts): Record<string, Record<string, string | null>> {
  const { customer, order, shop } = facts
  const values: Record<string, Record<string, string | null>> = {
    customer: {
      first_name: customer.firstName,
      last_name: customer.lastName,
      email: customer.email,
    },
    shop: { name: shop.name },
  }
  if (!order) return values
  values['order'] = {
    number: order.number,
    total: formatMoney({ amountMinor: order.totalMinor, currency: order.currency }, shop.locale),
    items: order.lines.map((line) => `${line.quantity} × ${line.title}`).join('\n'),
    placed_on: order.placedAt === null ? null : dateWords(order.placedAt, shop.zone, facts.now),
    tracking_url: order.trackingUrl,
  }
  return values
}
