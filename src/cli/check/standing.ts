import type { Config } from '../../backend/platform/config.ts'
import { openDatabase } from '../../backend/platform/db.ts'
import { MIGRATIONS } from '../../backend/platform/migrationsFolder.ts'
import { shopIds } from '../../backend/shop/index.ts'
import { openDns, shopStanding } from '../../backend/standing/index.ts'
import { tableState } from '../../backend/watch/index.ts'
import type { Standing, StandingKind } from '../../core/standing/standing.ts'
import { ok, warns, type Finding } from './findings.ts'

/** What receivers find when they look up the domains that messages come from; nothing where there are no shops yet. */
export async function checkStanding(config: Config): Promise<Finding[]> {
  const db = openDatabase(config.DATABASE_URL, { connections: 2 })
  try {
    if ((await tableState(db, MIGRATIONS)).pending.length > 0) return []
    const dns = openDns(config.DNS_SERVER)
    const byDomain = new Map<string, Standing[]>()
    for (const shopId of await shopIds(db)) {
      for (const { domain, standings } of await shopStanding(db, { dns, config, shopId })) {
        byDomain.set(domain, standings)
      }
    }
    return [...byDomain].flatMap(([domain, standings]) => standings.map((one) => findingOf(domain, one))) // prettier-ignore
  } catch {
    // That the database does not answer is said where it is looked at.
    return []
  } finally {
    await db.$client.end()
  }
}

const CODES: Record<StandingKind, string> = {
  spf: 'dns-spf',
  dkim: 'dns-dkim',
  dmarc: 'dns-dmarc',
  returnPath: 'dns-return-path',
}

function findingOf(domain: string, { kind, state, says, record }: Standing): Finding {
  if (state === 'good') return ok(CODES[kind], `${domain}: ${says}`)
  const mend = record ? `Enter ${record.type} at ${record.name}: ${record.value}` : 'Settings → Senders says what was found.' // prettier-ignore
  return warns(CODES[kind], `${domain}: ${says}`, mend)
}
