import { tagsOf, type DnsRecord, type Standing } from './standing.ts'

/** What mail is signed with. */
export interface SigningKey {
  domain: string
  selector: string
  /** The public part as it stands in the record: base64 of SubjectPublicKeyInfo. */
  publicKey: string
}

/** The record that a key needs (RFC 6376 section 3.6.1). */
export const dkimRecord = ({ domain, selector, publicKey }: SigningKey): DnsRecord => ({
  name: `${selector}._domainkey.${domain}`,
  type: 'TXT',
  value: `v=DKIM1; k=rsa; p=${publicKey}`,
})

/**
 * What receivers make of signatures with a key, by what the domain name system has at its place (RFC 6376 section 6.1.2).
 * `isAligned`: the domain of the signature belongs to that of the sender (RFC 7489 section 3.1.1).
 */
export function dkimStanding(
  key: SigningKey,
  texts: readonly string[],
  { sender, isAligned }: { sender: string; isAligned: boolean },
): Standing {
  const record = dkimRecord(key)
  const found = texts.filter((text) => tagsOf(text).has('p'))
  const judged = (state: Standing['state'], says: string): Standing => ({
    kind: 'dkim',
    state,
    says,
    found: [...texts],
    record: state === 'good' || state === 'weak' ? null : record,
  })
  const [only, ...others] = found
  if (only === undefined) return judged('missing', `Mail is signed, and nobody can check it: there is no key at ${record.name}.`) // prettier-ignore
  if (others.length > 0) return judged('wrong', `There are several keys at ${record.name}, and which of them is read is left to chance. Leave one.`) // prettier-ignore
  const tags = tagsOf(only)
  const version = tags.get('v')
  const published = (tags.get('p') ?? '').replaceAll(/\s/g, '')
  if (published === '') return judged('wrong', 'The key was taken back: an empty “p=” says so to all receivers.') // prettier-ignore
  if (version !== undefined && version !== 'DKIM1') return judged('wrong', `The record begins with “v=${version}”, and must begin with “v=DKIM1”.`) // prettier-ignore
  if (published !== key.publicKey) return judged('wrong', 'The key at that place is another than the one that mail is signed with, so every signature is refused.') // prettier-ignore
  if (!isAligned) {
    return { ...judged('weak', `Signatures are of ${key.domain}. That is another domain than ${sender}, so they say nothing for it (DMARC).`), record: null } // prettier-ignore
  }
  const flags = (tags.get('t') ?? '').split(':').map((flag) => flag.trim())
  if (flags.includes('y')) return judged('weak', 'The record says “t=y”, a trial: receivers treat the mail as though it were not signed. Take it out.') // prettier-ignore
  return judged('good', `Mail is signed by ${key.domain}, and everybody can check it.`)
}
