import type { Block, Paragraph } from '../blocks/blocks.ts'
import { siteOf } from '../messages/links.ts'
import type { EmailStep } from '../workflow/steps.ts'
import type { RecipeShop } from './parts.ts'

const GREETING = 'Hello {{ customer.first_name | default: "there" }},'

type EmailParts = Pick<EmailStep, 'subject' | 'body'> & Partial<EmailStep>

/** An email as a person writes it, signed by the shop's sender. */
export function email(key: string, name: string, shop: RecipeShop, parts: EmailParts): EmailStep {
  return {
    key,
    kind: 'email',
    name,
    purpose: 'transactional',
    format: 'plain',
    sender: shop.sender,
    previewText: '',
    ...parts,
    body: `${GREETING}\n\n${parts.body}\n\n${shop.sender.name}`,
  }
}

type DesignParts = Pick<EmailStep, 'subject' | 'previewText'> & Partial<EmailStep>

/** An email in the shop's brand, from its sender, with a greeting before its blocks and a name after. */
export function designed(
  key: string,
  name: string,
  shop: RecipeShop,
  parts: DesignParts,
  [first, ...blocks]: [Block, ...Block[]],
): EmailStep {
  return {
    key,
    kind: 'email',
    name,
    purpose: 'transactional',
    format: 'designed',
    sender: shop.sender,
    ...parts,
    body: '',
    // The heading stands over the greeting.
    blocks: [first, says('greeting', GREETING), ...blocks, says('name', shop.sender.name)],
  }
}

export const heading = (text: string, key = 'heading'): Block => ({
  key,
  kind: 'heading',
  level: key === 'heading' ? 1 : 2,
  text,
  ...(key === 'heading' && { style: { size: 'large', below: 'medium' } }),
})

/** A block of plain paragraphs. */
export const says = (key: string, ...paragraphs: string[]): Block => ({
  key,
  kind: 'text',
  text: paragraphs.map((text): Paragraph => ({ kind: 'paragraph', text: [{ text }] })),
})

/** The things themselves, with what they cost. */
export const ITEMS: Block = { key: 'items', kind: 'items', prices: true, images: true }

/** What an order came to, with where it goes. */
export const SUMMARY: Block = { key: 'summary', kind: 'summary', addresses: true }

/** The way to follow a parcel, where there is one. */
export const TRACKING: Block = { key: 'tracking', kind: 'tracking', label: 'Follow the parcel' }

/** A button to what a merge field leads to; to the shop where that is not known. */
export const buttonTo = (field: string, label: string, shop: RecipeShop): Block => ({
  key: 'button',
  kind: 'button',
  label,
  href: `{{ ${field} | default: "${shopSite(shop)}" }}`,
})

/** Where the shop most likely is. */
export const shopSite = ({ sender }: RecipeShop): string => siteOf(sender.address) ?? 'https://'

/** The code that a coupon step before it has issued. */
export const code = (text: string): Block => ({ key: 'code', kind: 'coupon', text })

/** The shop's places elsewhere. */
export const SOCIAL: Block = { key: 'social', kind: 'social' }

/** Three products, side by side. */
export const products = (by: 'together' | 'similar'): Block => ({
  key: 'products',
  kind: 'products',
  by,
  count: 3,
  columns: 3,
  prices: true,
  images: true,
})

/** Where to turn; the brand's own address follows. */
export const HELP: Block = {
  key: 'help',
  kind: 'help',
  text: 'Questions? Just answer this mail, or write to',
}
