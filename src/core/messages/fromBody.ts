import type { Block, Paragraph } from '../blocks/blocks.ts'
import { paragraphs } from './text.ts'

/** Merge fields that stand for a list have a block of their own. */
const ITEMS = /^\{\{\s*(order|checkout|basket)\.items\s*\}\}$/
const BULLET = /^[-*•]\s+/
const LINK_ALONE = /^(https?:\/\/\S+)$/

/** The text of a letter as blocks: paragraphs as they are, lists as lists, items as a table. */
export function blocksFromBody(body: string): Block[] {
  const blocks: Block[] = []
  const addText = (paragraph: Paragraph) => {
    const last = blocks.at(-1)
    if (last?.kind === 'text') last.text.push(paragraph)
    else blocks.push({ key: `text-${blocks.length + 1}`, kind: 'text', text: [paragraph] })
  }
  for (const lines of paragraphs(body)) {
    const [only = ''] = lines
    if (lines.length === 1 && ITEMS.test(only.trim())) {
      blocks.push({ key: `items-${blocks.length + 1}`, kind: 'items', prices: true })
    } else if (lines.length > 1 && lines.every((line) => BULLET.test(line))) {
      const items = lines.map((line) => [{ text: line.replace(BULLET, '') }])
      addText({ kind: 'list', ordered: false, items })
    } else if (lines.length === 1 && LINK_ALONE.test(only)) {
      addText({ kind: 'paragraph', text: [{ text: only, href: only }] })
    } else {
      addText({ kind: 'paragraph', text: [{ text: lines.join('\n') }] })
    }
  }
  return blocks
}
