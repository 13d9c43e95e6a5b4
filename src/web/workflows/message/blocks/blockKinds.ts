import {
  AlignLeft,
  Bookmark,
  Code,
  Columns2,
  Heading,
  Image,
  LifeBuoy,
  Link,
  List,
  Minus,
  MousePointerClick,
  ReceiptText,
  Share2,
  ShoppingBag,
  TicketPercent,
  Truck,
} from 'lucide-react'
import type { ComponentType } from 'react'
import { allBlocks, type Block, type BlockKind } from '../../../../core/blocks/blocks.ts'
import { templatesIn } from '../../../../core/blocks/blockTexts.ts'
import { paragraphText } from '../../../../core/blocks/blocks.ts'
import { readableTemplate } from '../../../../core/messages/mergeFields.ts'

interface KindInfo {
  label: string
  hint: string
  Icon: ComponentType<{ size?: number; className?: string }>
}

/** The kinds of blocks in the order in which they are offered. */
export const BLOCK_KINDS: Readonly<Record<BlockKind, KindInfo>> = {
  heading: { label: 'Heading', hint: 'a line in large letters', Icon: Heading },
  text: { label: 'Text', hint: 'paragraphs and lists', Icon: AlignLeft },
  button: { label: 'Button', hint: 'one thing to do', Icon: MousePointerClick },
  image: { label: 'Image', hint: 'a picture with a description', Icon: Image },
  items: { label: 'Items', hint: 'what was ordered, left behind or subscribed to', Icon: List },
  summary: { label: 'Order summary', hint: 'what it came to', Icon: ReceiptText },
  tracking: { label: 'Tracking', hint: 'the way to follow the parcel', Icon: Truck },
  coupon: { label: 'Coupon', hint: 'the code that was issued', Icon: TicketPercent },
  columns: { label: 'Columns', hint: 'two to four side by side', Icon: Columns2 },
  products: {
    label: 'Products',
    hint: 'best sellers, newest, bought together …',
    Icon: ShoppingBag,
  },
  divider: { label: 'Divider', hint: 'a thin line', Icon: Minus },
  menu: { label: 'Menu', hint: 'a row of links', Icon: Link },
  social: { label: 'Social links', hint: 'the shop’s places elsewhere', Icon: Share2 },
  help: { label: 'Help', hint: 'where to turn with questions', Icon: LifeBuoy },
  kept: { label: 'Kept block', hint: 'the same in several messages', Icon: Bookmark },
  html: { label: 'Own HTML', hint: 'for those who have it', Icon: Code },
}

/** How products are chosen. */
export const WAYS = {
  together: 'bought together with these',
  similar: 'like what they bought before',
  best: 'best sellers of 90 days',
  newest: 'newest',
  viewed: 'most looked at in 30 days',
} as const

/** What a block says, in short. */
export function blockWords(block: Block): string {
  if (block.kind === 'text') return readableTemplate(paragraphText(block.text))
  if (block.kind === 'html') return block.html.replaceAll(/<[^>]*>/g, ' ').trim()
  if (block.kind === 'columns') return block.columns.flat().map(blockWords).join(' · ')
  if (block.kind === 'menu') return block.links.map(({ label }) => label).join(' · ')
  if (block.kind === 'button') return readableTemplate(block.label)
  if (block.kind === 'image') return block.alt
  if (block.kind === 'products') return WAYS[block.by]
  return readableTemplate(templatesIn(block)[0] ?? '')
}

/** A key that no block has yet. */
export function freshBlockKey(blocks: readonly Block[], kind: string): string {
  const taken = new Set(allBlocks(blocks).map(({ key }) => key))
  const base = kind.replace(/-\d+$/, '')
  for (let number = 1; ; number += 1) {
    const key = `${base}-${number}`
    if (!taken.has(key)) return key
  }
}

/** What a block of each kind begins with. */
const FIRST: { [Kind in BlockKind]: Omit<Extract<Block, { kind: Kind }>, 'key' | 'kind'> } = {
  heading: { level: 1, text: '' },
  text: { text: [{ kind: 'paragraph', text: [] }] },
  button: { label: '', href: 'https://' },
  image: { src: 'https://', alt: '', width: 536 },
  items: { prices: true, images: true },
  summary: {},
  tracking: { label: 'Follow your parcel' },
  coupon: { text: 'Your code, until {{ coupon.expires_on | default: "the end of the month" }}' },
  columns: { columns: [[], []] },
  products: { by: 'together', count: 3, columns: 3, prices: true, images: true },
  divider: {},
  menu: { links: [] },
  social: {},
  help: { text: 'Questions? Just answer this mail, or write to' },
  kept: { kept: '' },
  html: { html: '' },
}

/** A new block of a kind. */
export function newBlock(blocks: readonly Block[], kind: BlockKind): Block {
  return { key: freshBlockKey(blocks, kind), kind, ...FIRST[kind] } as Block
}

/** The size an image is shown in: its own, or as wide as the text. */
export function fittedImage(width: number, height: number): { width: number; height: number } {
  const shown = Math.min(width, 536)
  return { width: shown, height: Math.max(1, Math.min(2000, Math.round((height * shown) / width))) }
}
