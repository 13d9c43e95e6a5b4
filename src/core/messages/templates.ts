import type { MessageStep } from '../workflow/steps.ts'
import { allBlocks, paragraphText, templatesIn, type Block } from './blocks.ts'

/** The blocks that a message is made of; none but for designed emails. */
export function blocksOf(message: MessageStep): Block[] {
  return message.kind === 'email' && message.format === 'designed'
    ? allBlocks(message.blocks ?? [])
    : []
}

/** Every template of a message that is rendered: subject, preview text, what it says, its links. */
export function templatesOf(message: MessageStep): string[] {
  if (message.kind === 'sms') return [message.body]
  if (message.kind === 'note') return [message.subject, message.body]
  const { subject, previewText, body, format } = message
  const says = format === 'designed' ? blocksOf(message).flatMap(templatesIn) : [body]
  return [subject, previewText, ...says]
}

/** What a message says below its subject, as one text. */
export function bodyText(message: MessageStep): string {
  if (message.kind !== 'email' || message.format !== 'designed') return message.body
  return blocksOf(message).map(blockText).join('\n\n')
}

function blockText(block: Block): string {
  switch (block.kind) {
    case 'text':
      return paragraphText(block.text)
    case 'button':
      return block.label
    case 'image':
      return block.alt
    case 'html':
      return block.html.replaceAll(/<[^>]*>/g, ' ')
    default:
      return templatesIn(block).join('\n')
  }
}
