import { z } from 'zod'

/** What is thrown away once it is old enough: what people looked at and clicked, what was mailed, what was decided. */
export const RETAINED = ['visits', 'mails', 'ledger'] as const
export type Retained = (typeof RETAINED)[number]

const days = z.int().min(30, 'must be at least 30 days').max(3650).nullable().optional()

/** How many days each is kept; null or left out: for good. */
export const retentionSchema = z.strictObject({ visits: days, mails: days, ledger: days })
export type Retention = z.infer<typeof retentionSchema>
