import { z } from 'zod'
import { conditionSchema } from '../conditions/condition.ts'
import { keySchema } from '../shared/key.ts'
import { styleSchema } from './style.ts'

/** Words with merge fields in them, like "Order {{ order.number }}". */
const words = (max: number) => z.string().max(max)
/** Where a link leads; may hold merge fields. */
const href = z.string().max(2000)

const styledSchema = z.strictObject({
  text: words(20_000),
  bold: z.boolean().optional(),
  italic: z.boolean().optional(),
  href: href.optional(),
})
/** A stretch of text in one style. A line break within a paragraph is "\n". */
export type Styled = z.infer<typeof styledSchema>

const runSchema = z.array(styledSchema).max(500)
const paragraphSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('paragraph'), text: runSchema }),
  z.strictObject({
    kind: z.literal('list'),
    ordered: z.boolean(),
    items: z.array(runSchema).max(100),
  }),
])
/** A paragraph or list of a text block. */
export type Paragraph = z.infer<typeof paragraphSchema>

export const paragraphsSchema = z.array(paragraphSchema).max(200)

export const linksSchema = z.array(z.strictObject({ label: words(120), href })).max(6)

/** Parts that every block has. */
const parts = {
  key: keySchema,
  /** Left out for those for whom this does not hold. */
  onlyIf: conditionSchema.optional(),
  style: styleSchema.optional(),
}

/** How things that are ordered or left behind are shown. */
const itemLooks = {
  images: z.boolean().optional(),
  /** One below the other, or side by side. */
  grid: z.boolean().optional(),
  /** With the kind that was taken: "2 kg", "left-handed". */
  variants: z.boolean().optional(),
}

const LEAF_BLOCKS = [
  z.strictObject({
    ...parts,
    kind: z.literal('heading'),
    level: z.union([z.literal(1), z.literal(2)]),
    text: words(300),
  }),
  z.strictObject({ ...parts, kind: z.literal('text'), text: paragraphsSchema }),
  z.strictObject({ ...parts, kind: z.literal('button'), label: words(120), href }),
  z.strictObject({
    ...parts,
    kind: z.literal('image'),
    src: href,
    /** What it shows, for those who do not see it. Empty only for decoration. */
    alt: words(300),
    /** In CSS pixels, as it is shown. */
    width: z.int().min(1).max(600),
    height: z.int().min(1).max(2000).optional(),
    href: href.optional(),
  }),
  /** The lines of what the workflow is about: ordered, left behind, or subscribed to. */
  z.strictObject({ ...parts, kind: z.literal('items'), prices: z.boolean(), ...itemLooks }),
  /** What an order came to, and how it is paid. */
  z.strictObject({
    ...parts,
    kind: z.literal('summary'),
    /** With where it goes and to whom the bill does. */
    addresses: z.boolean().optional(),
  }),
  /** The way to follow a parcel; left out where there is none. */
  z.strictObject({ ...parts, kind: z.literal('tracking'), label: words(120) }),
  /** The code that a coupon step has issued, and until when it counts. */
  z.strictObject({ ...parts, kind: z.literal('coupon'), text: words(300) }),
  /** Products that are not what the message is about. */
  z.strictObject({
    ...parts,
    kind: z.literal('products'),
    /** Best sellers, newest, most looked at, bought together with these, or like what was bought before. */
    by: z.enum(['best', 'newest', 'viewed', 'together', 'similar']),
    count: z.int().min(1).max(9),
    columns: z.int().min(1).max(3),
    prices: z.boolean(),
    images: z.boolean(),
    /** What stands over them; gone where there are none. */
    heading: words(300).optional(),
  }),
  z.strictObject({ ...parts, kind: z.literal('divider') }),
  /** A row of links. */
  z.strictObject({ ...parts, kind: z.literal('menu'), links: linksSchema }),
  /** The shop's places elsewhere, as its brand has them. */
  z.strictObject({ ...parts, kind: z.literal('social') }),
  /** Where to turn with questions. */
  z.strictObject({ ...parts, kind: z.literal('help'), text: words(1000) }),
  /** Blocks that are kept by themselves, and change wherever they are used. */
  z.strictObject({ ...parts, kind: z.literal('kept'), kept: z.string().max(40) }),
  /** Somebody's own HTML, cleaned before it is sent. */
  z.strictObject({ ...parts, kind: z.literal('html'), html: z.string().max(50_000) }),
] as const

export const leafSchema = z.discriminatedUnion('kind', [...LEAF_BLOCKS]).meta({ id: 'LeafBlock' })
/** A block that holds no others. */
export type LeafBlock = z.infer<typeof leafSchema>

const columnsSchema = z.strictObject({
  ...parts,
  kind: z.literal('columns'),
  columns: z.array(z.array(leafSchema).max(20)).min(2).max(4),
  /** How wide each is, as parts of a whole; left out: all the same. */
  widths: z.array(z.int().min(1).max(6)).min(2).max(4).optional(),
  /** Where shorter columns stand beside longer ones. */
  upright: z.enum(['top', 'middle', 'bottom']).optional(),
  /** On phones they stand one below the other; or stay side by side, where they are narrow enough. */
  phones: z.enum(['stack', 'beside']).optional(),
})
export type ProductsBlock = Extract<LeafBlock, { kind: 'products' }>
export type ItemsBlock = Extract<LeafBlock, { kind: 'items' }>
export type ColumnsBlock = z.infer<typeof columnsSchema>

export const blockSchema = z
  .discriminatedUnion('kind', [...LEAF_BLOCKS, columnsSchema])
  .meta({ id: 'Block' })
/** A part of a designed email, in its reading order. */
export type Block = z.infer<typeof blockSchema>
export type BlockKind = Block['kind']

export const blocksSchema = z.array(blockSchema).max(60)

/** What can be kept for other messages: blocks for everybody that hold no others. */
export const keptBlocksSchema = z
  .array(leafSchema)
  .min(1)
  .max(20)
  .refine((blocks) => blocks.every(({ kind, onlyIf }) => kind !== 'kept' && !onlyIf), {
    message: 'must be blocks without conditions, and no saved ones',
  })

/** The ids of the kept blocks that a message uses. */
export function keptIn(blocks: readonly Block[]): string[] {
  const ids = allBlocks(blocks).flatMap((block) => (block.kind === 'kept' ? [block.kept] : []))
  return [...new Set(ids)]
}

/**
 * Blocks with the saved ones in the place of where they are used. Each keeps the condition of the
 * place; their keys begin with its key. Those that are not there are left as they are.
 */
export function withKept(
  blocks: readonly Block[],
  kept: ReadonlyMap<string, readonly LeafBlock[]>,
): Block[] {
  const leaf = (block: LeafBlock): LeafBlock[] => {
    const own = block.kind === 'kept' ? kept.get(block.kept) : undefined
    if (!own) return [block]
    return own.map((one) => ({
      ...one,
      key: `${block.key}.${one.key}`,
      ...(block.onlyIf && { onlyIf: block.onlyIf }),
    }))
  }
  return blocks.flatMap((block): Block[] =>
    block.kind === 'columns'
      ? [{ ...block, columns: block.columns.map((column) => column.flatMap(leaf)) }]
      : leaf(block),
  )
}

/** Blocks with those inside columns, in reading order. */
export function allBlocks(blocks: readonly Block[]): Block[] {
  return blocks.flatMap((block) =>
    block.kind === 'columns' ? [block, ...block.columns.flat()] : [block],
  )
}

/** The text of a stretch of paragraphs, each on lines of its own. */
export function paragraphText(paragraphs: readonly Paragraph[]): string {
  return paragraphs
    .map(
      (one) =>
      one.kind === 'paragraph'
        ? plain(one.text)
        : one.items.map((item, index) => `${one.ordered ? `${index + 1}.` : '-'} ${plain(item)}`).join('\n'), // prettier-ignore
    )
    .join('\n\n')
}

const plain = (run: readonly Styled[]): string => run.map(({ text }) => text).join('')
