import type { Block, Paragraph, Styled } from './blocks.ts'

/** What a text of a block is for: to be read, as HTML of its own, or as the address of a page or an image. */
export type TextUse = 'words' | 'html' | 'link' | 'image'

export type ChangeText = (text: string, use: TextUse) => string

/** A block with each of its own texts that may hold merge fields changed. Blocks in its columns stay. */
export function withTexts<Any extends Block>(block: Any, change: ChangeText): Any
export function withTexts(block: Block, change: ChangeText): Block {
  switch (block.kind) {
    case 'heading':
    case 'help':
    case 'coupon':
      return { ...block, text: change(block.text, 'words') }
    case 'html':
      return { ...block, html: change(block.html, 'html') }
    case 'text':
      return { ...block, text: block.text.map((one) => paragraphWith(one, change)) }
    case 'button':
      return {
        ...block,
        label: change(block.label, 'words'),
        href: change(block.href, 'link'),
      }
    case 'image':
      return {
        ...block,
        src: change(block.src, 'image'),
        alt: change(block.alt, 'words'),
        ...linkWith(block, change),
      }
    case 'tracking':
      return { ...block, label: change(block.label, 'words') }
    case 'menu':
      return {
        ...block,
        links: block.links.map(({ label, href }) => ({
          label: change(label, 'words'),
          href: change(href, 'link'),
        })),
      }
    case 'columns':
    case 'divider':
    case 'items':
    case 'kept':
    case 'products':
    case 'social':
    case 'summary':
      return block
  }
}

function paragraphWith(paragraph: Paragraph, change: ChangeText): Paragraph {
  const run = (styled: Styled): Styled => ({
    ...styled,
    text: change(styled.text, 'words'),
    ...linkWith(styled, change),
  })
  return paragraph.kind === 'paragraph'
    ? { ...paragraph, text: paragraph.text.map(run) }
    : { ...paragraph, items: paragraph.items.map((item) => item.map(run)) }
}

const linkWith = ({ href }: { href?: string | undefined }, change: ChangeText) =>
  href === undefined ? {} : { href: change(href, 'link') }

/** The texts of a block that may hold merge fields, in reading order. */
export function textsIn(block: Block): { text: string; use: TextUse }[] {
  const found: { text: string; use: TextUse }[] = []
  withTexts(block, (text, use) => {
    found.push({ text, use })
    return text
  })
  return found
}

/** Every template in a block: words and links that may hold merge fields, and the code it shows by itself. */
export function templatesIn(block: Block): string[] {
  const texts = textsIn(block).map(({ text }) => text)
  return block.kind === 'coupon' ? [...texts, '{{ coupon.code }}'] : texts
}
