import type { HappeningKind } from '../workflow/rehearsalSubject.ts'
import type { StopKind } from '../rehearsal/story.ts'

/** What can happen in between, as a choice. */
export const HAPPENING_WORDS: Readonly<Record<HappeningKind, string>> = {
  paid: 'paid',
  fulfilled: 'fulfilled',
  delivered: 'delivered',
  cancelled: 'cancelled',
  refunded: 'refunded',
  paymentFailed: 'payment failed',
  ordered: 'orders again',
  review: 'writes a review',
  opened: 'opens the last message',
  clicked: 'clicks in the last message',
  unsubscribed: 'unsubscribes',
  saysYes: 'says yes to marketing',
  saysNo: 'says no to marketing',
  views: 'looks at it again',
  fillsBasket: 'puts it in the basket',
  startsCheckout: 'starts a checkout',
  subscribes: 'subscribes',
  renewed: 'subscription renewed',
  renewalFailed: 'renewal payment failed',
  subscriptionPaused: 'subscription paused',
  subscriptionCancelled: 'subscription cancelled',
  subscriptionEnded: 'subscription ended',
}

/** What became of somebody at a stop, in a word. */
export const STOP_WORDS: Readonly<Record<StopKind, string>> = {
  sent: 'sent',
  held: 'held back',
  skipped: 'skipped',
  left: 'left',
  done: 'done',
}
