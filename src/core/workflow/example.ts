import { z } from 'zod'
import { timestamp } from '../events/entities.ts'
import { keySchema } from '../shared/key.ts'
import { subjectSchema } from './rehearsalSubject.ts'

/** What came of a rehearsal, as far as it is to stay so. */
export const outcomeSchema = z.strictObject({
  /** How often they came in. */
  runs: z.int().min(0),
  /** Which messages when. */
  messages: z.array(z.strictObject({ step: keySchema, at: timestamp })).max(500),
  /** Which paths and arms they took the first time; the last path of a branching step has no branch. */
  ways: z.array(z.strictObject({ step: keySchema, branch: keySchema.nullable() })).max(500),
  /** Which exclusions held somebody or a message back. */
  exclusions: z.array(keySchema).max(40),
})
export type RehearsalOutcome = z.infer<typeof outcomeSchema>

/** A rehearsal that is kept with the workflow: who, what happens to them, and what is to come of it. */
export const exampleSchema = z.strictObject({
  key: keySchema,
  name: z.string().trim().min(1).max(120),
  subject: subjectSchema,
  outcome: outcomeSchema,
})
export type Example = z.infer<typeof exampleSchema>

/** More than these nobody reads. */
export const MOST_EXAMPLES = 100
