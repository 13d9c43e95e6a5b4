import type { CustomerChannel } from '../channels/catalogue.ts'
import type { MessageCap, PastMessage } from '../events/facts.ts'
import { DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'

/** A cap that is reached, and when it lets the next message through. */
export interface Capped {
  cap: MessageCap
  opensAt: Instant
}

/**
 * The cap that keeps a marketing message by `channel` back longest; null where none does. A message counts for a cap
 * of so many days until exactly that long after its moment.
 */
export function cappedBy(
  caps: readonly MessageCap[],
  messages: readonly PastMessage[],
  channel: CustomerChannel,
  now: Instant,
): Capped | null {
  let longest: Capped | null = null
  for (const cap of caps) {
    if (cap.channel !== 'all' && cap.channel !== channel) continue
    const span = cap.days * DAY_MS
    const counted = messages
      .filter((one) => one.marketing && (cap.channel === 'all' || one.channel === cap.channel))
      .map(({ at }) => at)
      .filter((at) => at > now - span)
      .toSorted((a, b) => b - a)
    // The next may leave once all but `most - 1` of them are out of the span.
    const last = counted[cap.most - 1]
    if (last === undefined) continue
    const opensAt = last + span
    if (longest === null || opensAt > longest.opensAt) longest = { cap, opensAt }
  }
  return longest
}
