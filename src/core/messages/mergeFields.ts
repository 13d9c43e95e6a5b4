import { FIELDS, type Field, type FieldValue, type Printed } from '../conditions/fields.ts'
import { isMoney } from '../conditions/operators.ts'
import { zoneOf, type CartFacts, type Facts, type LineFacts } from '../events/facts.ts'
import { canFill, canKnow, type Trigger } from '../workflow/trigger.ts'
import { writeDay, writeItems, writeMoney, writeTime, type FormatKind } from './formats.ts'

type MergeFieldOwner = Field['about'] | 'coupon' | 'shop'

/** A placeholder that can stand in a subject, preview text or body. */
export interface MergeField {
  key: string
  label: string
  about: MergeFieldOwner
  /** Never empty for a subject of this kind, so no fallback is needed. */
  alwaysFilled: boolean
  /** The field of the catalogue it prints, if it prints one. */
  source?: Pick<Field, 'about' | 'key'>
  /** What reads well in its place where it is unknown; null where only the shop can say. */
  suggestion: string | null
  /** It is the address of a page. */
  isLink?: boolean
  /** It is meant to be read in paragraphs. */
  hasLines?: boolean
  /** For colleagues only: never in what customers read. */
  forStaff?: boolean
  /** What it can be written as, besides the usual way; null for a plain text. */
  formats: FormatKind | null
  /**
   * The text for one recipient; null when it is not known, or there is no such format. Escaping is
   * the template's.
   */
  print: (facts: Facts, format?: string) => string | null
}

function fromCatalogue({ key, label, about, type, printed, read }: Field): MergeField[] {
  if (!printed) return []
  return [
    {
      key: `${about}.${printed.name}`,
      label: printed.label ?? label,
      about,
      source: { about, key },
      alwaysFilled: printed.always ?? false,
      suggestion: printed.suggestion ?? null,
      formats: type === 'money' ? 'money' : printed.date === undefined ? null : DATES[printed.date],
      ...(printed.lines && { hasLines: true }),
      print: (facts, format) => printedValue(read(facts), printed, facts, format),
    },
  ]
}

const DATES = { day: 'day', shopTime: 'time' } as const

function printedValue(
  value: FieldValue,
  { date }: Printed,
  facts: Facts,
  format?: string,
): string | null {
  if (value === null) return null
  const { locale } = facts.shop
  if (isMoney(value)) return writeMoney(value, locale, format)
  if (typeof value === 'number' && date === 'day') {
    return writeDay(value, zoneOf(facts), locale, format)
  }
  if (typeof value === 'number' && date === 'shopTime') {
    // Where a class takes place the shop's clocks count, not the recipient's.
    return writeTime(value, facts.shop.zone, locale, { now: facts.now, format })
  }
  return format === undefined ? String(value) : null
}

/** What is only printed, and never asked about. */
const only = (
  about: MergeFieldOwner,
  name: string,
  label: string,
  alwaysFilled: boolean,
  read: (facts: Facts) => string | null,
): MergeField => ({
  key: `${about}.${name}`,
  label,
  about,
  alwaysFilled,
  suggestion: null,
  formats: null,
  print: (facts, format) => (format === undefined ? read(facts) : null),
})

/** The address of a page, which may not be known. */
const link = (
  about: MergeFieldOwner,
  name: string,
  label: string,
  read: (facts: Facts) => string | null,
): MergeField => ({ ...only(about, name, label, false, read), isLink: true })

/** The items of an order, basket or checkout. */
const items = (
  about: 'order' | 'checkout' | 'basket',
  linesOf: (facts: Facts) => readonly LineFacts[] | undefined,
): MergeField => ({
  key: `${about}.items`,
  label: about === 'order' ? 'items, one per line' : `items in the ${about}, one per line`,
  about,
  alwaysFilled: true,
  suggestion: null,
  formats: 'list',
  print: (facts, format) => {
    const lines = linesOf(facts)
    return lines ? writeItems(lines, facts.shop.locale, format) : null
  },
})

function cartFields(about: 'checkout' | 'basket'): MergeField[] {
  const cart = (facts: Facts): CartFacts | null => facts[about]
  return [
    items(about, (f) => cart(f)?.lines),
    link(about, 'url', `link to the ${about}`, (f) => cart(f)?.url ?? null),
  ] // prettier-ignore
}

const COUPON_EXPIRY: MergeField = {
  key: 'coupon.expires_on',
  label: 'when the coupon expires',
  about: 'coupon',
  alwaysFilled: false,
  suggestion: null,
  formats: 'time',
  print: (facts, format) => {
    const at = facts.coupons.at(-1)?.expiresAt ?? null
    if (at === null) return null
    return writeTime(at, zoneOf(facts), facts.shop.locale, { now: facts.now, format })
  },
}

/** An address of the shop's own with an order's id, or its number, put in. */
function orderLink(order: Facts['order'], pattern: string | null | undefined): string | null {
  if (!order || !pattern) return null
  return pattern
    .replaceAll('{id}', () => encodeURIComponent(order.id))
    .replaceAll('{number}', () => encodeURIComponent(order.number))
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

/** Spaces, tabs and ends of lines; not the spaces that hold an amount together. */
const BREAKS = /[\t-\r \u0085\u2028\u2029]+/g

/**
 * A value as it stands in a sentence. Line breaks and the like in what people type into forms would write
 * paragraphs of theirs into messages of ours.
 */
function onOneLine(field: MergeField): MergeField {
  if (field.formats === 'list' || field.hasLines) return field
  return {
    ...field,
    print: (facts, format) => field.print(facts, format)?.replaceAll(BREAKS, ' ').trim() ?? null,
  }
}

/** Every merge field, by what it is about. */
export const MERGE_FIELDS: readonly MergeField[] = [
  ...FIELDS.flatMap(fromCatalogue),
  items('order', (f) => f.order?.lines),
  link('order', 'url', 'link to the order, for the customer', ({ order, shop }) => orderLink(order, shop.orderPageUrl)),
  link('order', 'tracking_url', 'tracking link', (f) => f.order?.trackingUrl ?? null),
  { ...link('order', 'back_office_url', 'link into the back office', ({ order, shop }) => orderLink(order, shop.backOfficeUrl)), forStaff: true },
  ...cartFields('checkout'),
  ...cartFields('basket'),
  only('subscription', 'title', 'product subscribed to', true, (f) => f.subscription?.product.title ?? null),
  link('subscription', 'url', 'link to manage it', (f) => f.subscription?.url ?? null),
  only('coupon', 'code', 'coupon code', true, (f) => f.coupons.at(-1)?.code ?? null),
  COUPON_EXPIRY,
  only('shop', 'name', 'shop name', true, (f) => f.shop.name),
].map(onOneLine).toSorted((a, b) => ORDER.indexOf(a.about) - ORDER.indexOf(b.about)) // prettier-ignore

/** True when messages of a workflow with this trigger can have the field filled. */
export function canFillField(
  { about, source }: MergeField,
  trigger: Trigger,
  hasCoupon: boolean,
): boolean {
  if (about === 'shop') return true
  if (about === 'coupon') return hasCoupon
  return source ? canKnow(trigger, source) : canFill(trigger, about)
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

/** The merge field of a key. */
export function findMergeField(key: string): MergeField | undefined {
  return BY_KEY.get(key)
}

const BY_KEY = new Map(MERGE_FIELDS.map((field) => [field.key, field]))

/** A merge field as it is used in a template. */
export interface UsedMergeField {
  key: string
  hasFallback: boolean
  /** How it is to be written; null for the usual way. */
  format: string | null
}

const OUTPUT_TAG = /\{\{-?\s*([a-zA-Z_][\w.]*)\s*([^}]*?)-?\}\}/g

/** The merge fields a template prints, in order of appearance. */
export function usedMergeFields(template: string): UsedMergeField[] {
  return [...template.matchAll(OUTPUT_TAG)].map((match) => ({
    key: match[1] ?? '',
    hasFallback: /\|\s*default\s*:/.test(match[2] ?? ''),
    format: argumentOf('as', match[2] ?? ''),
  }))
}

/** The text that a filter is given, between quotes; null without the filter. */
function argumentOf(filter: 'as' | 'default', filters: string): string | null {
  const found = ARGUMENTS[filter].exec(filters)
  return found ? (found[1] ?? found[2] ?? '') : null
}

const ARGUMENTS = {
  as: /\|\s*as\s*:\s*(?:"([^"]*)"|'([^']*)')/,
  default: /\|\s*default\s*:\s*(?:"([^"]*)"|'([^']*)')/,
}

/** A merge field in a template, with what stands in its place where it is unknown. */
export interface FieldPart {
  key: string
  /** How it is to be written; null for the usual way. */
  format: string | null
  fallback: string | null
}

/** The tag of a merge field, as it stands in a template. */
export function tagOf({ key, format, fallback }: FieldPart): string {
  const otherwise = fallback === null ? '' : ` | default: "${fallback}"`
  const as = format === null ? '' : ` | as: "${format}"`
  return `{{ ${key}${otherwise}${as} }}`
}

/**
 * The tag of a field to begin with. Where it may be unknown something stands in that reads well, or for
 * a link where the shop is.
 */
export function newTag(field: MergeField, site: string | null): string {
  return tagOf({ key: field.key, format: null, fallback: suggestedFallback(field, site) })
}

/** What stands in for a field where it is unknown; null where nothing has to, or only the shop can say. */
export function suggestedFallback(
  { alwaysFilled, isLink, suggestion }: MergeField,
  site: string | null,
): string | null {
  if (alwaysFilled) return null
  return isLink ? site : suggestion
}

/** A template cut into its text and its merge fields, in order. */
export function templateParts(template: string): (string | FieldPart)[] {
  const parts: (string | FieldPart)[] = []
  let from = 0
  for (const match of template.matchAll(OUTPUT_TAG)) {
    if (match.index > from) parts.push(template.slice(from, match.index))
    const filters = match[2] ?? ''
    parts.push({
      key: match[1] ?? '',
      format: argumentOf('as', filters),
      fallback: argumentOf('default', filters),
    })
    from = match.index + match[0].length
  }
  if (from < template.length) parts.push(template.slice(from))
  return parts
}

/** A template for reading at a glance: merge fields as "[first name]", other tags left out. */
export function readableTemplate(template: string): string {
  return template
    .replaceAll(OUTPUT_TAG, (_tag, key: string) => `[${findMergeField(key)?.label ?? key}]`)
    .replaceAll(/\{%.*?%\}/g, '')
}
