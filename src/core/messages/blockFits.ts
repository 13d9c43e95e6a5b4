import { subjectOf, type Trigger } from '../workflow/trigger.ts'
import type { BlockKind } from '../blocks/blocks.ts'

/** True for blocks that can have something to show in workflows of the trigger. */
export function blockFits(kind: BlockKind, trigger: Trigger, hasCoupon: boolean): boolean {
  const subject = subjectOf(trigger)
  if (kind === 'summary' || kind === 'tracking') return subject === 'order'
  if (kind === 'items') return ['order', 'checkout', 'basket', 'subscription'].includes(subject)
  return kind !== 'coupon' || hasCoupon
}
