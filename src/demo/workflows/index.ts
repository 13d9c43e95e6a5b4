import type { Definition } from '../../core/workflow/definition.ts'
import { afterDispatch } from './afterDispatch.ts'
import { firstToSecond } from './firstToSecond.ts'
import { orderConfirmation, paymentTrouble, personalThanks } from './orders.ts'
import { bookedClass, byProduct, moreSmoke } from './products.ts'
import { openBasket, openCheckout } from './recovery.ts'
import { badReview, failedRenewal, largeOrder } from './staff.ts'
import { reviewRequest, reviewThanks, twoQuietMonths } from './tests.ts'
import { comeBack, renewalFailed, renewalReminder, trialEnded } from './subscriptions.ts'

/** The demo's workflows that are switched on. */
export const LIVE_WORKFLOWS: readonly Definition[] = [
  orderConfirmation,
  personalThanks,
  afterDispatch,
  paymentTrouble,
  reviewRequest,
  byProduct,
  bookedClass,
  renewalReminder,
  renewalFailed,
  trialEnded,
  comeBack,
  openBasket,
  openCheckout,
  largeOrder,
  badReview,
  failedRenewal,
  twoQuietMonths,
  reviewThanks,
  moreSmoke,
]

/** Switched on, then paused. */
export const PAUSED_WORKFLOW: Definition = reviewRequest

/** Still a draft, with mistakes that the go-live check finds. */
export const DRAFT_WORKFLOW: Definition = firstToSecond
