import { z } from 'zod'

export const ledgerLine = z.object({
  id: z.int(),
  at: z.int(),
  kind: z.string(),
  /** Why it was decided so, as a code: of waits, of what was skipped and of who was turned away. */
  reason: z.string().nullable(),
  /** The entry as a sentence. */
  words: z.string(),
  step: z.string().nullable(),
})

export const ledgerRow = ledgerLine.extend({
  runId: z.int().nullable(),
  /** Null for what somebody of the shop did to a person, outside of any workflow. */
  workflow: z.object({ id: z.string(), name: z.string() }).nullable(),
  customer: z.object({ id: z.string(), name: z.string(), email: z.string().nullable() }),
  orderNumber: z.string().nullable(),
})
export type LedgerRow = z.infer<typeof ledgerRow>

/** What to show of the ledger. */
export const ledgerShow = z.enum(['all', 'sent', 'notSent', 'turnedAway', 'acts', 'attention'])
export type LedgerShow = z.infer<typeof ledgerShow>

export const ledgerQuery = z.object({
  show: ledgerShow.default('all'),
  workflow: z.string().optional(),
  /** The id of one person, exactly. */
  customer: z.string().max(200).optional(),
  /** Part of a customer's name or address, or an order number. */
  search: z.string().trim().max(100).optional(),
  before: z.coerce.number().int().optional(),
})
export const ledgerResponse = z.object({ rows: z.array(ledgerRow), more: z.boolean() })

export const runResponse = z.object({
  id: z.int(),
  workflow: z.object({ id: z.string(), name: z.string(), version: z.int() }),
  customer: z.object({ id: z.string(), name: z.string(), email: z.string().nullable() }),
  order: z
    .object({ id: z.string(), number: z.string(), total: z.string(), status: z.string() })
    .nullable(),
  enteredAt: z.int(),
  status: z.enum(['inProgress', 'ended']),
  outcome: z.enum(['completed', 'left', 'retired', 'takenOut']).nullable(),
  dueAt: z.int().nullable(),
  lines: z.array(ledgerLine.extend({ mailId: z.int().nullable() })),
})
export type RunResponse = z.infer<typeof runResponse>

/** What is still to come of a run, if nothing changes, and what would change it. */
export const runComing = z.object({
  /** Its workflow is paused: nothing of it comes before that is over. */
  isPaused: z.boolean(),
  next: z.object({ step: z.string(), at: z.int() }).nullable(),
  lines: z.array(z.object({ at: z.int(), kind: z.string(), words: z.string() })),
  /** What would stop or move it, and what is the case now. */
  hindrances: z.array(z.object({ would: z.string(), now: z.string() })),
})

export const mailSummary = z.object({
  /** A text message came through the gateway, and has a number for an address. */
  kind: z.enum(['mail', 'text']),
  id: z.int(),
  date: z.int(),
  from: z.string(),
  to: z.string(),
  subject: z.string(),
  snippet: z.string(),
})
export type MailSummary = z.infer<typeof mailSummary>
export const mailsQuery = z.object({
  search: z.string().trim().max(100).optional(),
  before: z.coerce.number().int().optional(),
})
export const mailsResponse = z.object({
  mails: z.array(mailSummary),
  more: z.boolean(),
  total: z.int(),
})
export type MailsResponse = z.infer<typeof mailsResponse>

export const mailResponse = mailSummary.omit({ snippet: true }).extend({
  text: z.string(),
  html: z.string().nullable(),
  headers: z.array(z.object({ name: z.string(), value: z.string() })),
  /** What the recipient reads in its head; null where there is no such line. */
  cc: z.string().nullable(),
  replyTo: z.string().nullable(),
  /** Everybody it was delivered to, blind copies included. */
  deliveredTo: z.array(z.string()),
  attachments: z.array(z.object({ name: z.string(), type: z.string(), bytes: z.int() })),
  /** The run that sent it, when it is known. */
  runId: z.int().nullable(),
})
export type MailResponse = z.infer<typeof mailResponse>
