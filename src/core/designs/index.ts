import type { Design } from './design.ts'
import { confirmation, dispatch, payment } from './orders.ts'
import { careGuide, review, secondOrder } from './relations.ts'
import { openCheckout, renewal } from './waiting.ts'

export { type Design, type DesignShop } from './design.ts'

/** The designs that come with Yomble, in the order of a customer's life. */
export const DESIGNS: readonly Design[] = [
  openCheckout,
  confirmation,
  payment,
  dispatch,
  careGuide,
  review,
  secondOrder,
  renewal,
]
