import type { Instant } from '../../core/shared/time.ts'

/**
 * The machine's own time. The one place that reads it: sessions and delivery attempts go by it;
 * everything a workflow decides goes by the shop clock.
 */
export function realNow(): Instant {
  return Date.now()
}
