import { canFill, type Trigger } from '../workflow/trigger.ts'

export type MergeFieldOwner =
  | 'customer'
  | 'order'
  | 'line'
  | 'checkout'
  | 'basket'
  | 'subscription'
  | 'review'
  | 'coupon'
  | 'shop'

/** A placeholder that can stand in a subject, preview text or body. */
export interface MergeField {
  key: string
  label: string
  about: MergeFieldOwner
  /** Never empty for a subject of this kind, so no fallback is needed. */
  alwaysFilled: boolean
}

const mergeField = (
  about: MergeFieldOwner,
  name: string,
  label: string,
  alwaysFilled: boolean,
): MergeField => ({ key: `${about}.${name}`, label, about, alwaysFilled })

const cartFields = (about: 'checkout' | 'basket'): MergeField[] => [
  mergeField(about, 'items', `items in the ${about}, one per line`, true),
  mergeField(about, 'total', `${about} total`, true),
  mergeField(about, 'url', `link to the ${about}`, false),
]

export const MERGE_FIELDS: readonly MergeField[] = [
  mergeField('customer', 'first_name', 'first name', false),
  mergeField('customer', 'last_name', 'last name', false),
  mergeField('customer', 'email', 'email address', true),
  mergeField('customer', 'phone', 'phone number', false),
  mergeField('order', 'number', 'order number', true),
  mergeField('order', 'total', 'order total', true),
  mergeField('order', 'items', 'items, one per line', true),
  mergeField('order', 'placed_on', 'date of the order', false),
  mergeField('order', 'tracking_url', 'tracking link', false),
  mergeField('order', 'first_date', 'first booked date', false),
  mergeField('line', 'title', 'product', true),
  mergeField('line', 'quantity', 'quantity', true),
  mergeField('line', 'starts_at', 'booked date', false),
  ...cartFields('checkout'),
  ...cartFields('basket'),
  mergeField('subscription', 'title', 'product subscribed to', true),
  mergeField('subscription', 'amount', 'amount', true),
  mergeField('subscription', 'interval', 'paid every', true),
  mergeField('subscription', 'next_payment_on', 'date of the next payment', false),
  mergeField('subscription', 'ends_on', 'end of the subscription', false),
  mergeField('subscription', 'trial_ends_on', 'end of the trial', false),
  mergeField('subscription', 'payment_method', 'payment method', false),
  mergeField('subscription', 'url', 'link to manage it', false),
  mergeField('review', 'stars', 'stars given', true),
  mergeField('review', 'text', 'text of the review', false),
  mergeField('coupon', 'code', 'coupon code', true),
  mergeField('coupon', 'expires_on', 'date the coupon expires', false),
  mergeField('shop', 'name', 'shop name', true),
]

/** True when messages of a workflow with this trigger can have the field filled. */
export function canFillField({ about }: MergeField, trigger: Trigger, hasCoupon: boolean): boolean {
  if (about === 'shop') return true
  return about === 'coupon' ? hasCoupon : canFill(trigger, about)
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
