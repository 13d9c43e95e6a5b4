export const PURPOSES = {
  transactional: 'transactional: part of the order',
  marketing: 'marketing: only with consent',
} as const

/** What happens when the message gap of the shop is still open. */
export const GAPS = { hold: 'wait until the gap is over', skip: 'leave this one out' } as const

/** Addresses as they are typed, one after the other with commas or spaces between. */
export function addressesOf(text: string): string[] {
  const trimmed = text.replace(/^[\s,;]+/, '')
  return trimmed === '' ? [] : trimmed.split(/\s*[,;]\s*|\s+/)
}

/** In whose language dates and amounts are written. */
export const LANGUAGES = {
  shop: 'the shop’s language',
  recipient: 'the recipient’s, where it is known',
} as const
