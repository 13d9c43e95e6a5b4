import { z } from 'zod'
import { EVENT_TYPES } from '../core/events/eventTypes.ts'
import { triggerSchema } from '../core/workflow/trigger.ts'
import { subjectSchema } from '../core/workflow/rehearsalSubject.ts'

/** Somebody of the shop's, by name, address or the number of an order. */
export const peopleQuery = z.object({ search: z.string().trim().max(100).default('') })
export const rehearsalPerson = z.object({
  id: z.string(),
  name: z.string().nullable(),
  email: z.string().nullable(),
})

export const likenessesBody = z.strictObject({
  customerId: z.string().min(1).max(200),
  trigger: triggerSchema,
})

/** Occasions at which a workflow could have begun for somebody, each with somebody made up who is like them. */
export const likenessesResponse = z.array(
  z.object({
    event: z.string(),
    type: z.enum(EVENT_TYPES),
    at: z.int(),
    number: z.string().nullable(),
    subject: subjectSchema,
  }),
)
