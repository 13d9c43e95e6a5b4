import { ORDER_RECIPES } from './orders.ts'
import { OTHER_RECIPES } from './others.ts'
import type { Recipe } from './parts.ts'
import { RETURNING_RECIPES } from './returning.ts'

export type { Recipe } from './parts.ts'

/** The starting points, in the order they are offered. */
export const RECIPES: readonly Recipe[] = [...ORDER_RECIPES, ...RETURNING_RECIPES, ...OTHER_RECIPES]
