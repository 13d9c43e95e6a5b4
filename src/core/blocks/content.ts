import { z } from 'zod'
import { sameDocument } from '../shared/sameDocument.ts'
import { leafSchema, linksSchema, paragraphsSchema, type Block, type BlockKind, type LeafBlock } from './blocks.ts' // prettier-ignore

/** What a block says, without how it looks: the parts that differ from one language to the next. */
export const contentSchema = z.strictObject({
  text: z.union([z.string().max(20_000), paragraphsSchema]).optional(),
  label: z.string().max(120).optional(),
  href: z.string().max(2000).optional(),
  src: z.string().max(2000).optional(),
  alt: z.string().max(300).optional(),
  heading: z.string().max(300).optional(),
  html: z.string().max(50_000).optional(),
  links: linksSchema.optional(),
})
export type BlockContent = z.infer<typeof contentSchema>
type Part = keyof BlockContent

/** Which parts of each kind are read, or lead somewhere. */
const PARTS: Readonly<Record<BlockKind, readonly Part[]>> = {
  heading: ['text'],
  text: ['text'],
  button: ['label', 'href'],
  image: ['src', 'alt', 'href'],
  tracking: ['label'],
  coupon: ['text'],
  products: ['heading'],
  menu: ['links'],
  help: ['text'],
  html: ['html'],
  items: [],
  summary: [],
  divider: [],
  social: [],
  kept: [],
  columns: [],
}

/** What a block says. */
export function contentOf(block: Block): BlockContent {
  const all = block as unknown as Record<Part, unknown>
  return Object.fromEntries(
    PARTS[block.kind].flatMap((part) => (all[part] === undefined ? [] : [[part, all[part]]])),
  )
}

/** True for blocks that say something of their own. */
export const saysSomething = (block: Block): boolean => PARTS[block.kind].length > 0

/** A block that says something else. What does not go with its kind leaves it as it is. */
export function saying(block: LeafBlock, content: BlockContent): LeafBlock {
  const parts = Object.fromEntries(
    Object.entries(content).filter(([part]) => PARTS[block.kind].includes(part as Part)),
  )
  const { data } = leafSchema.safeParse({ ...block, ...parts })
  return data ?? block
}

/** The blocks with each that holds no others changed. */
export const mapLeaves = (
  blocks: readonly Block[],
  change: (block: LeafBlock) => LeafBlock,
): Block[] =>
  blocks.map((block) =>
    block.kind === 'columns'
      ? { ...block, columns: block.columns.map((column) => column.map(change)) }
      : change(block),
  )

export const sameContent = (one: Block, other: Block): boolean =>
  sameDocument(contentOf(one), contentOf(other))
