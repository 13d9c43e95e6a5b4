import { tagsOf, type DnsRecord, type Standing } from './standing.ts'

const POLICIES: ReadonlySet<string> = new Set(['none', 'quarantine', 'reject'])

/** What to begin with: nothing is refused by it, and it is what large providers ask for. */
const firstRecord = (domain: string): DnsRecord => ({
  name: `_dmarc.${domain}`,
  type: 'TXT',
  value: 'v=DMARC1; p=none',
})

/** What a domain asks of receivers, by the records at its place or, where it has none, at that of the organization's domain. */
export interface DmarcRecords {
  domain: string
  own: readonly string[]
  /** Null where the domain is the organization's own. */
  organization: { domain: string; texts: readonly string[] } | null
}

/** Reads what a domain asks of receivers of mail that pretends to be from it (RFC 7489 sections 6.3 and 6.6.3). */
export function dmarcStanding({ domain, own, organization }: DmarcRecords): Standing {
  const ofDomain = own.filter(isDmarc)
  const inherited = ofDomain.length === 0 && organization !== null
  const found = inherited ? organization.texts.filter(isDmarc) : ofDomain
  const at = inherited ? organization.domain : domain
  const judged = (state: Standing['state'], says: string): Standing => ({
    kind: 'dmarc',
    state,
    says,
    found,
    record: state === 'missing' || state === 'wrong' ? firstRecord(at) : null,
  })
  const [only, ...others] = found
  if (only === undefined) return judged('missing', 'Nothing says what becomes of mail that pretends to be from here. Large providers ask every shop that writes to many for such a record.') // prettier-ignore
  if (others.length > 0) return judged('wrong', `There are ${found.length} records at _dmarc.${at}, so receivers take notice of none. Leave one.`) // prettier-ignore
  const tags = tagsOf(only)
  const policy = (inherited ? tags.get('sp') : undefined) ?? tags.get('p')
  if (policy === undefined || !POLICIES.has(policy.toLowerCase())) {
    return judged('wrong', `The record needs “p=none”, “p=quarantine” or “p=reject”${policy === undefined ? '' : `, and has “${policy}”`}.`) // prettier-ignore
  }
  const share = Number(tags.get('pct') ?? '100')
  if (policy.toLowerCase() === 'none') return judged('good', 'Receivers are asked to let everything through: right for the beginning. Once all your mail passes, “p=quarantine” keeps others from writing in your name.') // prettier-ignore
  const what = policy.toLowerCase() === 'reject' ? 'refuse' : 'file as spam'
  return judged('good', `Receivers are asked to ${what} ${share < 100 ? `${share} of a hundred mails` : 'mail'} in your name that does not come from you.`) // prettier-ignore
}

const isDmarc = (text: string): boolean => /^v\s*=\s*DMARC1\s*(;|$)/.test(text.trim())
