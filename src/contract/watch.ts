import { z } from 'zod'

/** Whether a server can do its work, and what that rests on. */
export const readinessResponse = z.object({
  ready: z.boolean(),
  checks: z.array(
    z.object({
      name: z.enum(['database', 'tables', 'queue']),
      ok: z.boolean(),
      says: z.string(),
    }),
  ),
})
export type Readiness = z.infer<typeof readinessResponse>
