import { z } from 'zod'
import { conditionSchema } from '../core/conditions/condition.ts'
import { triggerSchema } from '../core/workflow/trigger.ts'

export const countBody = z.object({
  trigger: triggerSchema,
  conditions: z.array(conditionSchema).min(1).max(50),
})

/** For how many subjects of the last 90 days each condition holds; null where that cannot be said. */
export const countResponse = z
  .object({
    of: z.int(),
    held: z.array(z.int()),
    first: z.array(z.int()),
    since: z.int(),
  })
  .nullable()
