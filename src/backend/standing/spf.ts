import { isIP } from 'node:net'
import type { Resolver } from 'node:dns/promises'
import { spf } from 'mailauth/lib/spf/index.js'
import { z } from 'zod'
import { spfStanding, type SpfResult } from '../../core/standing/spfStanding.ts'
import type { Standing } from '../../core/standing/standing.ts'
import { addressesOf, textsAt } from './dns.ts'

/** Kept for documentation (RFC 5737): whoever lets this one send lets everybody. */
const STRANGER = '192.0.2.1'
const OWN_MACHINE: ReadonlySet<string> = new Set(['127.0.0.1', 'localhost', '::1', '[::1]'])

const evaluation = z.object({
  status: z.object({ result: z.string(), comment: z.string().optional() }),
  lookups: z.object({ count: z.int() }).optional(),
})

/** Looks up who may send for a domain, and whether the mail server at `host` may. */
export async function lookUpSpf(dns: Resolver, domain: string, host: string): Promise<Standing> {
  const texts = await textsAt(dns, domain)
  const isThere = texts.some((text) => /^v=spf1( |$)/i.test(text))
  const ips = !isThere || OWN_MACHINE.has(host) ? [] : isIP(host) ? [host] : await addressesOf(dns, host) // prettier-ignore
  const [stranger, servers] = await Promise.all([
    isThere ? evaluate(dns, domain, STRANGER) : null,
    Promise.all(ips.map(async (ip) => ({ ip, ...(await evaluate(dns, domain, ip)) }))),
  ])
  return spfStanding({ domain, texts, stranger, servers, host })
}

async function evaluate(dns: Resolver, domain: string, ip: string): Promise<SpfResult> {
  const resolver = (name: string, type: string) => dns.resolve(name, type) as Promise<string[][]>
  const sender = `postmaster@${domain}`
  const said = evaluation.parse(await spf({ sender, ip, helo: domain, mta: domain, resolver }))
  const { result, comment = '' } = said.status
  return { result, comment, lookups: said.lookups?.count ?? 0 }
}
