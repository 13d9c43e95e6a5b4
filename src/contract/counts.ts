import { z } from 'zod'
import { conditionSchema } from '../core/conditions/condition.ts'
import { triggerSchema } from '../core/workflow/trigger.ts'

export const countBody = z.object({
  trigger: triggerSchema,
  conditions: z.array(conditionSchema).min(1).max(50),
  /** Milliseconds after the event at which they are asked; 0 for its own moment. */
  afterMs: z.int().min(0).default(0),
})

const countOfHeld = z.object({
  of: z.int(),
  held: z.array(z.int()),
  first: z.array(z.int()),
  since: z.int(),
})
export type CountOfHeld = z.infer<typeof countOfHeld>

/** For how many subjects of the last 90 days each condition holds; null where that cannot be said. */
export const countResponse = countOfHeld.nullable()

export const combinationsBody = z.object({
  trigger: triggerSchema,
  /** The conditions of a split's paths, in their order. */
  branches: z.array(conditionSchema).max(50),
})

const combination = z.object({
  categories: z.array(z.string()),
  orders: z.int(),
  revenueMinor: z.int(),
  paths: z.array(z.int()),
})
export type Combination = z.infer<typeof combination>
/** Categories ordered together in the last year, with the paths those orders would take. */
export const combinationsResponse = z.object({
  combinations: z.array(combination),
  /** Since when; null for the whole year. Of a large shop it is less. */
  since: z.int().nullable(),
})
