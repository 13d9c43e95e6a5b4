import { createPublicKey } from 'node:crypto'
import type { Resolver } from 'node:dns/promises'
import { getDomain } from 'tldts'
import { dkimRecord, dkimStanding, type SigningKey } from '../../core/standing/dkimStanding.ts'
import { dmarcStanding } from '../../core/standing/dmarcStanding.ts'
import { returnPathStanding } from '../../core/standing/returnPathStanding.ts'
import type { Standing, StandingKind } from '../../core/standing/standing.ts'
import { readDkim } from '../messages/index.ts'
import type { Config } from '../platform/config.ts'
import { toError } from '../platform/errors.ts'
import { addressesOf, exchangesOf, textsAt } from './dns.ts'
import { lookUpSpf } from './spf.ts'

/** A domain that messages come from, and what receivers find when they look it up. */
export interface DomainStanding {
  domain: string
  standings: Standing[]
}

/** Looks up what a receiver would of mail from a domain: who may send, the key of signatures, what is asked of receivers, who takes what comes back. */
export async function lookUpDomain(
  dns: Resolver,
  config: Config,
  domain: string,
): Promise<DomainStanding> {
  const path = config.RETURN_PATH?.split('@')[1] ?? domain
  const looks: Record<StandingKind, () => Promise<Standing>> = {
    spf: () => lookUpSpf(dns, path, new URL(config.SMTP_URL).hostname),
    dkim: () => lookUpDkim(dns, config, domain),
    dmarc: () => lookUpDmarc(dns, domain),
    returnPath: () => lookUpReturnPath(dns, path, config.RETURN_PATH !== undefined),
  }
  const standings = await Promise.all(
    Object.entries(looks).map(async ([kind, look]) => {
      try {
        return await look()
      } catch (error) {
        return noAnswer(kind as StandingKind, error)
      }
    }),
  )
  return { domain, standings }
}

const noAnswer = (kind: StandingKind, error: unknown): Standing => ({
  kind,
  state: 'unknown',
  says: `The name server did not answer (${(error as NodeJS.ErrnoException).code ?? toError(error).message}). Look again in a while.`,
  found: [],
  record: null,
})

async function lookUpDkim(dns: Resolver, config: Config, sender: string): Promise<Standing> {
  const dkim = readDkim(config)
  if (!dkim) {
    const says = 'Yomble signs no mail. Either your mail server does, which cannot be seen from here, or nobody does: then set DKIM_DOMAIN, DKIM_SELECTOR and DKIM_KEY_FILE; “yomble dkim” makes a key.' // prettier-ignore
    return { kind: 'dkim', state: 'unknown', says, found: [], record: null }
  }
  const key: SigningKey = {
    domain: dkim.domainName,
    selector: dkim.keySelector,
    publicKey: publicKeyOf(dkim.privateKey),
  }
  const texts = await textsAt(dns, dkimRecord(key).name)
  const isAligned = organizationOf(key.domain) === organizationOf(sender)
  return dkimStanding(key, texts, { sender, isAligned })
}

/** The public part of a private key (PEM), as records have it. */
export const publicKeyOf = (privateKey: string): string =>
  createPublicKey(privateKey).export({ type: 'spki', format: 'der' }).toString('base64')

async function lookUpDmarc(dns: Resolver, domain: string): Promise<Standing> {
  const above = organizationOf(domain)
  const [own, texts] = await Promise.all([
    textsAt(dns, `_dmarc.${domain}`),
    above === domain ? [] : textsAt(dns, `_dmarc.${above}`),
  ])
  return dmarcStanding({
    domain,
    own,
    organization: above === domain ? null : { domain: above, texts },
  })
}

async function lookUpReturnPath(dns: Resolver, domain: string, hasOwn: boolean) {
  const exchanges = await exchangesOf(dns, domain)
  const hasAddress = exchanges.length === 0 && (await addressesOf(dns, domain)).length > 0
  return returnPathStanding({ domain, hasOwn, exchanges, hasAddress })
}

/** The domain under which somebody can register names (RFC 7489 section 3.2), by the Public Suffix List. */
const organizationOf = (domain: string): string =>
  getDomain(domain, { allowPrivateDomains: true }) ?? domain
