import { z } from 'zod'
import { pullRule } from '../core/connections/pull.ts'
import { signatureRule } from '../core/connections/signature.ts'

const problem = z.object({ path: z.string(), message: z.string() })

export const connectionSummary = z.object({
  id: z.string(),
  name: z.string(),
  isOn: z.boolean(),
  createdAt: z.int(),
  /** How it signs, without the secret. */
  signature: z.enum(['none', 'hmac', 'standard']),
})

export const connectionBody = z.object({
  id: z.int(),
  receivedAt: z.int(),
  body: z.string(),
  state: z.enum(['taken', 'refused', 'unsigned']),
  outcome: z.object({ events: z.int(), fresh: z.int(), problems: z.array(problem) }),
})
export type ConnectionBody = z.infer<typeof connectionBody>

export const connectionDetail = connectionSummary.extend({
  mapping: z.string(),
  /** How it signs; of the secret only its end. */
  rule: z
    .object({
      kind: z.string(),
      header: z.string(),
      encoding: z.string(),
      prefix: z.string(),
      secretEnd: z.string(),
    })
    .nullable(),
  /** How it fetches, without what it authorises itself with. */
  pull: pullRule.omit({ authorization: true }).extend({ isAuthorized: z.boolean() }).nullable(),
  pulled: z
    .object({
      at: z.int(),
      problem: z.string().nullable(),
      pages: z.int(),
      fresh: z.int(),
      refused: z.int(),
    })
    .nullable(),
  bodies: z.array(connectionBody),
})
export type ConnectionDetail = z.infer<typeof connectionDetail>

const mapping = z.string().max(20_000)
export const connectionName = z.object({ name: z.string().trim().min(1, 'Give it a name').max(80) })
export const connectionChange = z
  .strictObject({
    name: connectionName.shape.name,
    mapping,
    isOn: z.boolean(),
    /** Null: nothing is asked for. */
    signature: signatureRule.nullable(),
    /** Null: it fetches nothing. Without `authorization`: it stays as it is. */
    pull: pullRule.partial({ authorization: true }).nullable(),
    /** Fetches as soon as it can. */
    fetchNow: z.literal(true),
  })
  .partial()

/** An address that has just been made; its secret part is in no other answer. */
export const connectionAddress = z.object({ id: z.string(), address: z.string() })

export const tryBody = z.object({ mapping, body: z.string().max(1_000_000) })
export const tryAnswer = z.object({
  events: z.array(z.record(z.string(), z.unknown())),
  problems: z.array(problem),
})
export type TryAnswer = z.infer<typeof tryAnswer>

export const replayAnswer = z.object({ taken: z.int(), refused: z.int() })
