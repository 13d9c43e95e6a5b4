import { blocksFromBody } from '../../../core/messages/fromBody.ts'
import { bodyText } from '../../../core/workflow/templates.ts'
import type { EmailStep } from '../../../core/workflow/steps.ts'

/** How an email is made. */
export const FORMATS = {
  plain: 'plain text, as a person writes',
  letter: 'letter: plain words, set as a simple page',
  designed: 'designed: blocks in the shop’s brand',
} as const

/** What changes with the form: words that were written in one are there in the other. */
export function inFormat(message: EmailStep, format: EmailStep['format']): Partial<EmailStep> {
  const isDesigned = format === 'designed'
  if (isDesigned && !message.blocks?.length) return { format, blocks: blocksFromBody(message.body) }
  if (!isDesigned && message.body.trim() === '') return { format, body: bodyText(message) }
  return { format }
}
