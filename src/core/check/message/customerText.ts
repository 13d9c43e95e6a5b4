import { readableTemplate } from '../../messages/mergeFields.ts'
import { bodyText } from '../../workflow/templates.ts'
import type { CustomerMessageStep } from '../../workflow/steps.ts'

/** All that is read of a message, with its merge fields by their names. */
export function textOf(message: CustomerMessageStep): string {
  switch (message.kind) {
    case 'sms':
      return readableTemplate(message.body)
    case 'email':
      return readableTemplate(`${message.subject}\n${message.previewText}\n${bodyText(message)}`)
  }
}

const ASKS_FOR_REVIEW =
  /\b(write|leave|give|post|submit|share|add)\b[^.?!]{0,40}\breviews?\b|\breview (it|us|your|this)\b|\brate (it|us|your)\b/i

/** True for words that ask for a review. Common practice of the trade, in English. */
export const asksForReview = (text: string): boolean => ASKS_FOR_REVIEW.test(text)
