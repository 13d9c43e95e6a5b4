import type { Resolver } from 'node:dns/promises'
import { addressBook } from '../addresses/index.ts'
import type { Config } from '../platform/config.ts'
import type { Db } from '../platform/db.ts'
import { lookUpDomain, type DomainStanding } from './lookUp.ts'

/** Looks up the domains of all of a shop's senders, that of its own sender first. */
export async function shopStanding(
  db: Db,
  { dns, config, shopId }: { dns: Resolver; config: Config; shopId: string },
): Promise<(DomainStanding & { senders: string[] })[]> {
  const { senders } = await addressBook(db, shopId)
  const byDomain = new Map<string, string[]>()
  for (const { address } of senders) {
    const domain = address.split('@')[1]?.toLowerCase()
    if (domain) byDomain.set(domain, [...(byDomain.get(domain) ?? []), address])
  }
  return Promise.all(
    [...byDomain].map(async ([domain, addresses]) => ({
      ...(await lookUpDomain(dns, config, domain)),
      senders: addresses,
    })),
  )
}
