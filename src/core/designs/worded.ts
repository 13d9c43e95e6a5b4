import type { Block, LeafBlock, Paragraph } from '../blocks/blocks.ts'
import { DESIGNS, type DesignShop } from './index.ts'

/** What a block says instead: a text's paragraphs, a heading's or button's words, where a button leads; null takes it out. */
export type Words = string | readonly string[] | { label: string; href: string } | null

/**
 * A design's blocks with words of one's own, by their keys; what is not named says what the design does. Throws
 * on a design or a block that there is not.
 */
export function worded(
  design: string,
  shop: DesignShop,
  words: Readonly<Record<string, Words>>,
): Block[] {
  const made = DESIGNS.find(({ key }) => key === design)?.make(shop)
  if (!made) throw new RangeError(`There is no design “${design}”`)
  const unused = new Set(Object.keys(words))
  const own = (block: LeafBlock): LeafBlock[] => {
    const said = words[block.key]
    unused.delete(block.key)
    if (said === undefined) return [block]
    return said === null ? [] : [saying(block, said)]
  }
  const blocks = made.blocks.flatMap((block): Block[] => {
    if (block.kind !== 'columns') return own(block)
    unused.delete(block.key)
    if (words[block.key] === null) return []
    return [{ ...block, columns: block.columns.map((column) => column.flatMap(own)) }]
  })
  const [odd] = unused
  if (odd !== undefined) throw new RangeError(`The design “${design}” has no block “${odd}”`)
  return blocks
}

function saying(block: LeafBlock, said: Exclude<Words, null>): LeafBlock {
  if (typeof said === 'object' && 'label' in said) return { ...block, ...said }
  const lines = typeof said === 'string' ? [said] : said
  if (block.kind === 'text') {
    const [first] = block.text
    const list = first?.kind === 'list' ? first : null
    const text: Paragraph[] = list
      ? [{ ...list, items: lines.map((line) => [{ text: line }]) }]
      : lines.map((line) => ({ kind: 'paragraph', text: [{ text: line }] }))
    return { ...block, text }
  }
  if (block.kind === 'products') return { ...block, heading: lines.join(' ') }
  const name = block.kind === 'button' || block.kind === 'tracking' ? 'label' : 'text'
  return { ...block, [name]: lines.join(' ') }
}
