import { z } from 'zod'
import { ALERT_CODES } from '../core/alerts/alerts.ts'

/** How a shop and its installation stand, for people. Times are of the shop's clock, but those of backups. */
export const statusResponse = z.object({
  alerts: z.array(
    z.object({ code: z.enum(ALERT_CODES), about: z.string(), says: z.string(), to: z.string(), since: z.int() }), // prettier-ignore
  ),
  work: z.object({ workers: z.int(), jobs: z.int(), queueAgeS: z.number(), dueLagS: z.number() }),
  messages: z.object({
    waiting: z.int(),
    held: z.int(),
    failed: z.int(),
    unsure: z.int(),
    lastSentAt: z.int().nullable(),
  }),
  /** For owners: it is about the installation as a whole. */
  installation: z
    .object({
      backupAt: z.int().nullable(),
      tables: z.array(z.object({ table: z.string(), rows: z.int(), bytes: z.int() })),
    })
    .nullable(),
})
export type StatusResponse = z.infer<typeof statusResponse>
