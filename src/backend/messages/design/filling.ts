import { allBlocks, type Block } from '../../../core/blocks/blocks.ts'
import { findMergeField, type FieldPart } from '../../../core/messages/mergeFields.ts'
import type { Facts, LineFacts } from '../../../core/events/facts.ts'
import { formatMoney } from '../../../core/shared/money.ts'
import type { Product } from '../../recommend/index.ts'
import type { FixedWords } from '../../../core/messages/fixedWords.ts'
import { foreignTag, type TagSyntax } from '../../../core/messages/foreignTags.ts'
import { fieldName, RenderError, unknownField } from '../renderError.ts'

/** All that differs from one recipient of a design to the next. */
export interface Filling {
  facts: Facts
  /** What merge fields print, by owner and name. */
  values: Readonly<Record<string, Readonly<Record<string, string>>>>
  subject: string
  previewText: string
  /** The link that stops marketing; null where none belongs. */
  wayOut: string | null
  /** Where a product can be looked at, and its picture, by its id. */
  looks: ReadonlyMap<string, ProductLook>
  /** What messages say by themselves, in the language of this one. */
  words: FixedWords
  /** What each block of products shows. */
  products: ReadonlyMap<string, readonly Product[]>
  /** Merge fields are written as another system's, instead of being filled. */
  tags?: TagSyntax | undefined
  /** Whether the condition of a block holds. Kept blocks ask for the place they are used in. */
  holds: (block: string) => boolean
}

/**
 * What a merge field prints. Throws RenderError where it is unknown and has no fallback, and where it
 * cannot be written as it is to be.
 */
export function valueOf(part: FieldPart, filling: Filling): string {
  if (filling.tags !== undefined) return foreignTag(part, filling.tags)
  const { key, format, fallback } = part
  const text = usualOf(key, filling)
  if (text !== undefined && format !== null) {
    const written = findMergeField(key)?.print(filling.facts, format) ?? null
    if (written === null)
      throw new RenderError(`${fieldName(key)} cannot be written as "${format}"`)
    return written
  }
  if (text !== undefined) return text
  if (fallback === null) throw new RenderError(unknownField(key))
  return fallback
}

function usualOf(key: string, { values }: Filling): string | undefined {
  const [owner = '', ...name] = key.split('.')
  const own = Object.hasOwn(values, owner) ? values[owner] : undefined
  return own && Object.hasOwn(own, name.join('.')) ? own[name.join('.')] : undefined
}

/** The keys of the blocks that a recipient does not see. */
export function hiddenBlocks(blocks: readonly Block[], filling: Filling): Set<string> {
  const hidden = allBlocks(blocks).filter(
    (block) =>
      (block.onlyIf !== undefined && !filling.holds(block.key)) ||
      (block.kind === 'tracking' && !filling.facts.order?.trackingUrl) ||
      (block.kind === 'products' && (filling.products.get(block.key) ?? []).length === 0),
  )
  return new Set(hidden.map(({ key }) => key))
}

/** What is known of a product beside its name. */
export type ProductLook = Pick<Product, 'url' | 'imageUrl'>

/** A thing that was ordered or left, in words. */
export interface ItemRow {
  title: string
  /** Which kind of it: "2 kg". */
  variant: string | null
  url: string | null
  imageUrl: string | null
  quantity: number
  /** What all of it costs; null where that is not known. */
  price: string | null
}

/** The items of what a message is about, in their order. */
export function itemRows({ facts, looks }: Filling): ItemRow[] {
  const { order, checkout, basket, subscription } = facts
  const lines = (order ?? checkout ?? basket)?.lines ?? (subscription ? [subscription.product] : [])
  return lines.map((line) => ({
    title: line.title,
    variant: line.variant ?? null,
    url: line.url ?? looks.get(line.productId)?.url ?? null,
    imageUrl: line.imageUrl ?? looks.get(line.productId)?.imageUrl ?? null,
    quantity: line.quantity,
    price: priceOf(line, facts.shop.locale),
  }))
}

function priceOf({ unitPriceMinor, currency, quantity }: LineFacts, locale: string): string | null {
  if (unitPriceMinor === null || currency === null) return null
  return formatMoney({ amountMinor: unitPriceMinor * quantity, currency }, locale)
}

/** What an order came to: label and amount, the total last. Empty without an order. */
export function summaryRows({ facts, values, words }: Filling): [label: string, value: string][] {
  const { order } = facts
  if (!order) return []
  const money = (amountMinor: number) =>
    formatMoney({ amountMinor, currency: order.currency }, facts.shop.locale)
  const { itemsMinor, shippingMinor, discountMinor, taxMinor } = order.details.amounts ?? {}
  const parts: [string, number | null | undefined][] = [
    [words.items, itemsMinor],
    [words.discount, discountMinor ? -discountMinor : null],
    [words.shipping, shippingMinor],
    [words.tax, taxMinor],
  ]
  const known = parts.flatMap(([label, amount]): [string, string][] =>
    amount === null || amount === undefined ? [] : [[label, money(amount)]],
  )
  // Items alone say nothing that the total does not.
  const shown =
    itemsMinor === order.totalMinor ? known.filter(([label]) => label !== words.items) : known
  const paidBy = values['order']?.['payment_method']
  return [
    ...shown,
    ...(paidBy === undefined ? [] : ([[words.paidBy, paidBy]] as [string, string][])),
    [words.total, money(order.totalMinor)],
  ]
}

const namesByLocale = new Map<string, Intl.DisplayNames>()

function countryNames(locale: string): Intl.DisplayNames {
  const known = namesByLocale.get(locale)
  const names = known ?? new Intl.DisplayNames([locale], { type: 'region' })
  if (!known) namesByLocale.set(locale, names)
  return names
}

/** The addresses of an order, each with its lines. */
export function addressesOf({ facts, words }: Filling): { label: string; lines: string[] }[] {
  const { shippingAddress, billingAddress } = facts.order?.details ?? {}
  if (!shippingAddress && !billingAddress) return []
  const names = countryNames(facts.shop.locale)
  return (
    [
      [words.goesTo, shippingAddress],
      [words.billTo, billingAddress],
    ] as const
  ).flatMap(([label, address]) => {
    if (!address) return []
    const { name, company, street, postcode, city, country } = address
    const place = [postcode, city].filter(Boolean).join(' ')
    const lines = [name, company, street, place, country ? names.of(country) : null]
    return [{ label, lines: lines.filter((line): line is string => Boolean(line)) }]
  })
}
