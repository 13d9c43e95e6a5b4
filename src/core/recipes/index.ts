import { firstToSecond } from './firstToSecond.ts'
import { ORDER_RECIPES } from './orders.ts'
import type { Recipe } from './parts.ts'
import { PRODUCT_RECIPES } from './products.ts'
import { RECOVERY_RECIPES } from './recovery.ts'
import { STAFF_RECIPES } from './staff.ts'
import { SUBSCRIPTION_RECIPES } from './subscriptions.ts'

export type { Recipe } from './parts.ts'

/** The starting points, in the order they are offered. */
export const RECIPES: readonly Recipe[] = [
  ...ORDER_RECIPES,
  firstToSecond,
  ...PRODUCT_RECIPES,
  ...SUBSCRIPTION_RECIPES,
  ...RECOVERY_RECIPES,
  ...STAFF_RECIPES,
]
