/** What is looked at of a domain that messages come from. */
export const STANDING_KINDS = ['spf', 'dkim', 'dmarc', 'returnPath'] as const
export type StandingKind = (typeof STANDING_KINDS)[number]

/**
 * `good`; `weak`: it counts, and could do more; `missing`; `wrong`: it is there, and receivers take no notice of it or reject what
 * comes; `unknown`: it could not be looked up, or cannot be told from here.
 */
export const STANDING_STATES = ['good', 'weak', 'missing', 'wrong', 'unknown'] as const
export type StandingState = (typeof STANDING_STATES)[number]

/** A record of the domain name system, as it is entered where the domain is run. */
export interface DnsRecord {
  name: string
  type: 'TXT' | 'MX'
  value: string
}

/** One thing that receivers look up before they believe where a mail comes from. */
export interface Standing {
  kind: StandingKind
  state: StandingState
  /** What is the case, and what it means, in a sentence or two. */
  says: string
  /** What was found, as it stands there. */
  found: string[]
  /** What to enter, where something is to be entered. */
  record: DnsRecord | null
}

/** The tags of a record like `v=DMARC1; p=none` (RFC 6376 section 3.2), names in small letters. */
export function tagsOf(record: string): Map<string, string> {
  const tags = new Map<string, string>()
  for (const part of record.split(';')) {
    const at = part.indexOf('=')
    if (at > 0) tags.set(part.slice(0, at).trim().toLowerCase(), part.slice(at + 1).trim())
  }
  return tags
}
