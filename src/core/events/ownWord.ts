import type { EventData } from './cloudEvent.ts'
import type { EventType } from './eventTypes.ts'

/** How people say yes or no to marketing on ways of our own. */
export const WAYS = {
  link: 'unsubscribe link',
  page: 'preference page',
  text: 'answer to a text message',
  complaint: 'complaint',
  unsubscribed: 'unsubscribed',
} as const

/** A person's own yes or no to marketing on one channel. */
export interface OwnWord {
  customerId: string
  /** Null where it is the channel of the message it is about. */
  channel: 'email' | 'sms' | null
  messageId: string | null
  given: boolean
  how: string
}

/**
 * What somebody has said for themselves in an event: that they unsubscribed or complained, or a change of
 * consent. A no counts as theirs however it is known; a yes only if the event says how it was given,
 * since the shop's own picture must not lift what a person has said. Null for all other events.
 */
export function ownWordIn(type: EventType, data: EventData): OwnWord | null {
  if ('consent' in data) {
    const { customerId, channel, given, how } = data.consent
    if (given && !how) return null
    return { customerId, channel, messageId: null, given, how: how ?? 'told by the shop' }
  }
  if (!('message' in data)) return null
  const { customerId, id } = data.message
  const about = { customerId, channel: null, messageId: id ?? null, given: false }
  if (type === 'message.complained') return { ...about, how: WAYS.complaint }
  if (type === 'message.unsubscribed') return { ...about, how: WAYS.unsubscribed }
  return null
}
