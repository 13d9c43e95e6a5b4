import { z } from 'zod'
import { CUSTOMER_CHANNELS } from '../channels/catalogue.ts'
import type { Instant } from '../shared/time.ts'

const name = z.string().trim().min(1).max(60)

/** What somebody of the shop does to a person, outside of any workflow. */
export const personActSchema = z.discriminatedUnion('did', [
  /** No marketing until then; null lets it leave again. */
  z.strictObject({ did: z.literal('quiet'), until: z.int().positive().nullable() }),
  /** Their yes or no to marketing, and how they said it: what consent rests on. */
  z.strictObject({
    did: z.literal('consent'),
    channel: z.enum(CUSTOMER_CHANNELS),
    given: z.boolean(),
    how: z.string().trim().min(1, 'Say how they said so').max(100),
  }),
  z.strictObject({ did: z.literal('tag'), name, change: z.enum(['add', 'remove']) }),
  z.strictObject({ did: z.literal('list'), name, change: z.enum(['add', 'remove']) }),
  /** An address from which mail came back is written to again. */
  z.strictObject({ did: z.literal('revive'), address: z.string().max(254) }),
  z.strictObject({ did: z.literal('erase') }),
])
export type PersonAct = z.infer<typeof personActSchema>

/** What the ledger keeps of it. */
export interface ActEntry {
  kind: 'acted'
  person: string
  act: PersonAct
}

/** True while no marketing is to leave to them. */
export const isQuiet = (quietUntil: Instant | null, now: Instant): boolean =>
  quietUntil !== null && quietUntil > now
