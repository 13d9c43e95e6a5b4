import type { MessageCap } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'

/**
 * When all caps let a mail through that went out at some moments before; null when they do now. Tried at each moment at
 * which one of those falls out of a cap's days.
 */
export function capsOpenAt(
  caps: readonly MessageCap[],
  sentAt: readonly Instant[],
  now: Instant,
): Instant | null {
  const isOpen = (at: Instant): boolean =>
    caps.every(
      ({ channel, most, days }) =>
        channel === 'sms' || sentAt.filter((sent) => sent > at - days * DAY_MS).length < most,
    )
  if (isOpen(now)) return null
  const moments = caps.flatMap(({ days }) => sentAt.map((sent) => sent + days * DAY_MS))
  return Math.min(...moments.filter((at) => at > now && isOpen(at)))
}
