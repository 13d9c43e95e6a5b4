import { z } from 'zod'
import { STANDING_KINDS, STANDING_STATES } from '../core/standing/standing.ts'

const dnsRecord = z.object({ name: z.string(), type: z.enum(['TXT', 'MX']), value: z.string() })

const standing = z.object({
  kind: z.enum(STANDING_KINDS),
  state: z.enum(STANDING_STATES),
  says: z.string(),
  found: z.array(z.string()),
  record: dnsRecord.nullable(),
})
export type StandingResponse = z.infer<typeof standing>

/** How the domains stand that a shop's messages come from. */
export const standingsResponse = z.object({
  domains: z.array(
    z.object({ domain: z.string(), senders: z.array(z.string()), standings: z.array(standing) }),
  ),
})
export type DomainResponse = z.infer<typeof standingsResponse>['domains'][number]
