import { FIELDS, type Field, type FieldValue, type Printed } from '../conditions/fields.ts'
import { isMoney } from '../conditions/operators.ts'
import { zoneOf, type CartFacts, type Facts, type LineFacts } from '../events/facts.ts'
import { formatMoney } from '../shared/money.ts'
import { dateWords, dayOf } from '../words/quantities.ts'
import { canFill, type Trigger } from '../workflow/trigger.ts'

type MergeFieldOwner = Field['about'] | 'coupon' | 'shop'

/** A placeholder that can stand in a subject, preview text or body. */
export interface MergeField {
  key: string
  label: string
  about: MergeFieldOwner
  /** Never empty for a subject of this kind, so no fallback is needed. */
  alwaysFilled: boolean
  /** For colleagues only: never in what customers read. */
  forStaff?: boolean
  /** The text for one recipient; null when it is not known. Escaping is the template's. */
  print: (facts: Facts) => string | null
}

function fromCatalogue({ label, about, printed, read }: Field): MergeField[] {
  if (!printed) return []
  return [
    {
      key: `${about}.${printed.name}`,
      label: printed.label ?? label,
      about,
      alwaysFilled: printed.always ?? false,
      print: (facts) => printedValue(read(facts), printed, facts),
    },
  ]
}

function printedValue(value: FieldValue, { date }: Printed, facts: Facts): string | null {
  if (value === null) return null
  if (isMoney(value)) return formatMoney(value, facts.shop.locale)
  if (typeof value !== 'number') return String(value)
  if (date === 'day') return dayOf(value, zoneOf(facts))
  // Where a class takes place the shop's clocks count, not the recipient's.
  return date === 'shopTime' ? dateWords(value, facts.shop.zone, facts.now) : String(value)
}

/** What is only printed, and never asked about. */
const only = (
  about: MergeFieldOwner,
  name: string,
  label: string,
  alwaysFilled: boolean,
  print: MergeField['print'],
): MergeField => ({ key: `${about}.${name}`, label, about, alwaysFilled, print })

const itemLines = (lines: readonly LineFacts[] | undefined): string | null =>
  lines?.map((line) => `${line.quantity} × ${line.title}`).join('\n') ?? null

function cartFields(about: 'checkout' | 'basket'): MergeField[] {
  const cart = (facts: Facts): CartFacts | null => facts[about]
  return [
    only(about, 'items', `items in the ${about}, one per line`, true, (f) => itemLines(cart(f)?.lines)),
    only(about, 'url', `link to the ${about}`, false, (f) => cart(f)?.url ?? null),
  ] // prettier-ignore
}

function expiry(facts: Facts): string | null {
  const at = facts.coupons.at(-1)?.expiresAt ?? null
  return at === null ? null : dayOf(at, zoneOf(facts))
}

function backOfficeLink({ order, shop }: Facts): string | null {
  if (!order || shop.backOfficeUrl === null) return null
  return shop.backOfficeUrl.replaceAll('{id}', () => encodeURIComponent(order.id))
}

const ORDER: readonly MergeFieldOwner[] = [
  'customer',
  'order',
  'line',
  'checkout',
  'basket',
  'subscription',
  'review',
  'coupon',
  'shop',
]

/** Every merge field, by what it is about. */
export const MERGE_FIELDS: readonly MergeField[] = [
  ...FIELDS.flatMap(fromCatalogue),
  only('order', 'items', 'items, one per line', true, (f) => itemLines(f.order?.lines)),
  only('order', 'tracking_url', 'tracking link', false, (f) => f.order?.trackingUrl ?? null),
  { ...only('order', 'back_office_url', 'link into the back office', false, backOfficeLink), forStaff: true },
  ...cartFields('checkout'),
  ...cartFields('basket'),
  only('subscription', 'title', 'product subscribed to', true, (f) => f.subscription?.product.title ?? null),
  only('subscription', 'url', 'link to manage it', false, (f) => f.subscription?.url ?? null),
  only('coupon', 'code', 'coupon code', true, (f) => f.coupons.at(-1)?.code ?? null),
  only('coupon', 'expires_on', 'date the coupon expires', false, expiry),
  only('shop', 'name', 'shop name', true, (f) => f.shop.name),
].toSorted((a, b) => ORDER.indexOf(a.about) - ORDER.indexOf(b.about)) // prettier-ignore

/** True when messages of a workflow with this trigger can have the field filled. */
export function canFillField({ about }: MergeField, trigger: Trigger, hasCoupon: boolean): boolean {
  if (about === 'shop') return true
  return about === 'coupon' ? hasCoupon : canFill(trigger, about)
}

/**
 * The values behind the merge fields for one recipient, as templates look them up. What is unknown or
 * empty is left out.
 */
export function mergeValues(facts: Facts): Record<string, Record<string, string>> {
  const values: Record<string, Record<string, string>> = {}
  for (const { key, about, print } of MERGE_FIELDS) {
    const own = (values[about] ??= {})
    const text = print(facts)
    if (text !== null && text !== '') own[key.slice(about.length + 1)] = text
  }
  return values
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

/** A merge field in a template, with what stands in its place where it is unknown. */
export interface FieldPart {
  key: string
  fallback: string | null
}

/** A template cut into its text and its merge fields, in order. */
export function templateParts(template: string): (string | FieldPart)[] {
  const parts: (string | FieldPart)[] = []
  let from = 0
  for (const match of template.matchAll(OUTPUT_TAG)) {
    if (match.index > from) parts.push(template.slice(from, match.index))
    const fallback = /\|\s*default\s*:\s*(?:"([^"]*)"|'([^']*)')/.exec(match[2] ?? '')
    parts.push({
      key: match[1] ?? '',
      fallback: fallback ? (fallback[1] ?? fallback[2] ?? '') : null,
    })
    from = match.index + match[0].length
  }
  if (from < template.length) parts.push(template.slice(from))
  return parts
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
