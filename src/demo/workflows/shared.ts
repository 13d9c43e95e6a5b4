import type { Block, Paragraph } from '../../core/blocks/blocks.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { EmailStep } from '../../core/workflow/steps.ts'
import { worded } from '../../core/designs/worded.ts'
import { PRODUCTS } from '../catalogue.ts'

/** "None of these has ever been in an order of theirs." Throws on a title that the shop does not have. */
export const neverBought = (...titles: string[]): Condition => ({
  kind: 'lines',
  on: 'orders',
  how: 'none',
  of: [{ kind: 'field', field: 'line.product', op: 'in', value: titles.map(productId) }],
})

/** The id of a product. Throws on a title that the shop does not have. */
export function productId(title: string): string {
  const product = PRODUCTS.find((one) => one.title === title)
  if (!product) throw new Error(`The demo shop has no “${title}”`)
  return product.id
}

export const MAREN = { name: 'Maren at Combwright', address: 'maren@combwright.example' }
export const TIAGO = { name: 'Tiago at Combwright', address: 'care@combwright.example' }
export const SHOP_SENDER = { name: 'Combwright', address: 'hello@combwright.example' }

/** A message with the parts that most of the demo's have. */
export function message(
  key: string,
  name: string,
  parts: Pick<EmailStep, 'subject' | 'body' | 'sender'> & Partial<EmailStep>,
): EmailStep {
  return {
    key,
    kind: 'email',
    name,
    purpose: 'marketing',
    format: 'letter',
    previewText: '',
    ...parts,
  }
}

/** A message made of blocks, in the shop's brand. */
export function designed(
  key: string,
  name: string,
  parts: Pick<EmailStep, 'subject' | 'sender'> & Partial<EmailStep>,
  blocks: Block[],
): EmailStep {
  return message(key, name, { ...parts, format: 'designed', body: '', blocks })
}

/** One of the designs that come with Yomble, in the shop's own words by the keys of its blocks. */
export const inDesign = (design: string, words: Parameters<typeof worded>[2]): Block[] =>
  worded(design, { name: 'Combwright', site: 'https://combwright.example' }, words)

/** A block of plain paragraphs. */
export const says = (key: string, ...paragraphs: string[]): Block => ({
  key,
  kind: 'text',
  text: paragraphs.map((text): Paragraph => ({ kind: 'paragraph', text: [{ text }] })),
})

export const GREETING = 'Hello {{ customer.first_name | default: "there" }},'
