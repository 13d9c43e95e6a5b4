import type { EmailStep, MessageStep } from './steps.ts'
import { allBlocks, paragraphText, type Block } from '../blocks/blocks.ts'
import { templatesIn, withTexts, type ChangeText } from '../blocks/blockTexts.ts'

/** The blocks that a message is made of; none but for designed emails. */
export function blocksOf(message: MessageStep): Block[] {
  return message.kind === 'email' && message.format === 'designed'
    ? allBlocks(message.blocks ?? [])
    : []
}

/** A part of a message, as somebody looks for it: a block by its key. */
export type MessagePart =
  | { kind: 'name' | 'subject' | 'previewText' | 'text' | 'envelope' }
  | { kind: 'block'; key: string }

export interface PartTemplate {
  part: MessagePart
  template: string
}

/** Every template of a message that is rendered, with where it stands, in reading order. */
export function partsOf(message: MessageStep): PartTemplate[] {
  const part = (kind: 'subject' | 'previewText' | 'text', template: string): PartTemplate => ({
    part: { kind },
    template,
  })
  switch (message.kind) {
    case 'sms':
      return [part('text', message.body)]
    case 'note':
      return [part('subject', message.subject), part('text', message.body)]
    case 'email': {
      const head = [part('subject', message.subject), part('previewText', message.previewText)]
      if (message.format !== 'designed') return [...head, part('text', message.body)]
      const blocks = blocksOf(message).flatMap((block) =>
        templatesIn(block).map((template): PartTemplate => {
          return { part: { kind: 'block', key: block.key }, template }
        }),
      )
      return [...head, ...blocks]
    }
  }
}

/** Every template of a message that is rendered: subject, preview text, what it says, its links. */
export const templatesOf = (message: MessageStep): string[] =>
  partsOf(message).map(({ template }) => template)

/** True when a coupon's code or expiry may stand in a message. What is in a kept block may be anything. */
export function showsCoupon(message: MessageStep): boolean {
  return (
    templatesOf(message).some((template) => /\bcoupon\./.test(template)) ||
    blocksOf(message).some(({ kind }) => kind === 'coupon' || kind === 'kept')
  )
}

/** The message with each of its templates changed. */
export function changeTexts<Message extends MessageStep>(
  message: Message,
  change: ChangeText,
): Message
export function changeTexts(message: MessageStep, change: ChangeText): MessageStep {
  switch (message.kind) {
    case 'sms':
      return { ...message, body: change(message.body, 'words') }
    case 'note': {
      const subject = change(message.subject, 'words')
      return { ...message, subject, body: change(message.body, 'words') }
    }
    case 'email':
      return changeEmail(message, change)
  }
}

function changeEmail(message: EmailStep, change: ChangeText): EmailStep {
  const subject = change(message.subject, 'words')
  const previewText = change(message.previewText, 'words')
  if (message.format !== 'designed') {
    return { ...message, subject, previewText, body: change(message.body, 'words') }
  }
  const blocks = (message.blocks ?? []).map((block) =>
    block.kind === 'columns'
      ? {
          ...block,
          columns: block.columns.map((column) => column.map((one) => withTexts(one, change))),
        }
      : withTexts(block, change),
  )
  return { ...message, subject, previewText, blocks }
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
    case 'columns':
    case 'coupon':
    case 'divider':
    case 'heading':
    case 'help':
    case 'items':
    case 'kept':
    case 'menu':
    case 'products':
    case 'social':
    case 'summary':
    case 'tracking':
      return templatesIn(block).join('\n')
  }
}
