import type { Block, LeafBlock, Paragraph, Styled } from '../blocks/blocks.ts'
import type { BlockStyle } from '../blocks/style.ts'
import type { SubjectKind } from '../events/eventTypes.ts'

/** What of a shop a design says. */
export interface DesignShop {
  name: string
  /** Where the shop is, with its scheme, without a slash at the end. */
  site: string
}

/** A whole message to begin with: its blocks, with texts that can be sent, and its subject. */
export interface Design {
  key: string
  name: string
  /** When one would send it. */
  hint: string
  /** What a workflow has to be about for all of it to be filled. */
  about: readonly SubjectKind[]
  make: (shop: DesignShop) => DesignedMessage
}

export interface DesignedMessage {
  subject: string
  previewText: string
  blocks: Block[]
}

type Leaf<Kind extends LeafBlock['kind']> = Extract<LeafBlock, { kind: Kind }>

export const heading = (
  key: string,
  text: string,
  style?: BlockStyle,
  level: 1 | 2 = 1,
): Leaf<'heading'> => ({ key, kind: 'heading', level, text, ...(style && { style }) })

/** Paragraphs; a stretch between two asterisks is bold. */
export const says = (
  key: string,
  paragraphs: readonly string[],
  style?: BlockStyle,
): Leaf<'text'> => ({
  key,
  kind: 'text',
  text: paragraphs.map((text): Paragraph => ({ kind: 'paragraph', text: withBold(text) })),
  ...(style && { style }),
})

/** A list; a stretch between two asterisks is bold. */
export const lists = (
  key: string,
  items: readonly string[],
  { ordered = false, style }: { ordered?: boolean; style?: BlockStyle } = {},
): Leaf<'text'> => ({
  key,
  kind: 'text',
  text: [{ kind: 'list', ordered, items: items.map(withBold) }],
  ...(style && { style }),
})

const withBold = (text: string): Styled[] =>
  text
    .split('*')
    .map((part, index): Styled => (index % 2 === 1 ? { text: part, bold: true } : { text: part }))
    .filter((part) => part.text !== '')

export const button = (
  key: string,
  label: string,
  href: string,
  style?: BlockStyle,
): Leaf<'button'> => ({ key, kind: 'button', label, href, ...(style && { style }) })

export const columns = (
  key: string,
  all: LeafBlock[][],
  rest: Partial<Extract<Block, { kind: 'columns' }>> = {},
): Block => ({ key, kind: 'columns', columns: all, ...rest })

/** The field's link, or the shop where that is not known. */
export const linkTo = (field: string, { site }: DesignShop): string =>
  `{{ ${field} | default: "${site}" }}`

export const NAME = '{{ customer.first_name | default: "there" }}'
