import { z } from 'zod'
import { EVENT_TYPES } from '../core/events/eventTypes.ts'
import type { LedgerEntry } from '../core/workflow/ledgerEntry.ts'
import { definitionSchema } from '../core/workflow/definition.ts'
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
  /** What came of each occasion is told of this one. */
  workflowId: z.string().min(1).max(200),
})

/** Occasions at which a workflow could have begun for somebody, each with somebody made up who is like them. */
export const likenessesResponse = z.object({
  occasions: z.array(
    z.object({
      event: z.string(),
      type: z.enum(EVENT_TYPES),
      at: z.int(),
      number: z.string().nullable(),
      subject: subjectSchema,
      /** What really came of it. */
      came: z.object({
        runId: z.int().nullable(),
        /** The entry of the ledger that turned them away. */
        turnedAway: z.custom<LedgerEntry>().nullable(),
        isBeforeLive: z.boolean(),
        /** What the workflow was when it came in: null where that was not noted. */
        state: z.enum(['live', 'paused', 'retired']).nullable(),
      }),
    }),
  ),
  /** All that was told of them, by type, what was told last first. */
  happened: z.array(z.object({ type: z.enum(EVENT_TYPES), count: z.int(), lastAt: z.int() })),
})
export type Occasion = z.infer<typeof likenessesResponse>['occasions'][number]

/** Somebody made up, with the workflow that they are taken through. */
export const seriesBody = z.strictObject({ definition: definitionSchema, subject: subjectSchema })
export const seriesResponse = z.object({ sent: z.int(), to: z.string() })
/** One message of all that leave, by its place. */
export const rehearsedBody = seriesBody.extend({ place: z.int().min(0).max(1000) })
