import { z } from 'zod'

/** Something that somebody changed. */
export const auditEntry = z.object({
  id: z.int(),
  at: z.int(),
  userId: z.string(),
  person: z.string(),
  operation: z.string(),
  did: z.string(),
  about: z.record(z.string(), z.string()),
  before: z.unknown(),
  after: z.unknown(),
})
export type AuditEntry = z.infer<typeof auditEntry>

export const auditQuery = z.object({
  search: z.string().trim().max(100).default(''),
  /** The id of the last entry that is there already. */
  before: z.coerce.number().int().positive().optional(),
})
export const auditResponse = z.object({ entries: z.array(auditEntry), more: z.boolean() })
