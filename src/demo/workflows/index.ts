import { z } from 'zod'
import type { Definition } from '../../core/workflow/definition.ts'
import { exampleSchema } from '../../core/workflow/example.ts'
import { afterDispatch } from './afterDispatch.ts'
import EXAMPLES from './examples.json' with { type: 'json' }
import { firstToSecond } from './firstToSecond.ts'
import { orderConfirmation, paymentTrouble, personalThanks } from './orders.ts'
import { bookedClass, byProduct, moreSmoke } from './products.ts'
import { openBasket, openCheckout } from './recovery.ts'
import { badReview, failedRenewal, largeOrder } from './staff.ts'
import { reviewRequest, reviewThanks, twoQuietMonths } from './tests.ts'
import { comeBack, renewalFailed, renewalReminder, trialEnded } from './subscriptions.ts'

/** The demo's workflows that are switched on, as they are written. */
const WRITTEN: readonly Definition[] = [
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

/** The same with their examples, which `npm run schema` finds. */
export const LIVE_WORKFLOWS: readonly Definition[] = WRITTEN.map((definition) => ({
  ...definition,
  examples: z.array(exampleSchema).parse((EXAMPLES as Record<string, unknown>)[definition.name] ?? []), // prettier-ignore
}))

/** Switched on, then paused. */
export const PAUSED_WORKFLOW: Definition = reviewRequest

/** Still a draft, with mistakes that the go-live check finds. */
export const DRAFT_WORKFLOW: Definition = firstToSecond
