import type { DnsRecord, Standing } from './standing.ts'

/** What an evaluation (RFC 7208 section 2.6) came to. */
export interface SpfResult {
  result: string
  /** Why, in the words of who evaluated. */
  comment: string
  lookups: number
}

/** What is known of a domain's SPF. */
export interface SpfFacts {
  /** The domain of the return path. */
  domain: string
  /** All text records there. */
  texts: readonly string[]
  /** For an address that nobody sends from (RFC 5737); null where there was nothing to evaluate. */
  stranger: SpfResult | null
  /** For each address of the mail server that mail is handed to; none where that is this machine. */
  servers: readonly (SpfResult & { ip: string })[]
  /** The mail server's name, and how it would be named in the record. */
  host: string
}

/** What receivers make of where mail comes from, by the record of its return path's domain (RFC 7208). */
export function spfStanding(facts: SpfFacts): Standing {
  const { domain, texts, stranger, servers, host } = facts
  const found = texts.filter(isSpf)
  const judged = (
    state: Standing['state'],
    says: string,
    record: DnsRecord | null = null,
  ): Standing => ({ kind: 'spf', state, says, found, record })
  const named = isOwnMachine(host) ? 'mx' : `a:${host}`
  const first = { name: domain, type: 'TXT', value: `v=spf1 ${named} ~all` } as const
  const [only, ...others] = found
  if (only === undefined || stranger === null) return judged('missing', `Nothing says which servers send for ${domain}, so receivers cannot tell you from others.`, first) // prettier-ignore
  if (others.length > 0) return judged('wrong', `There are ${found.length} records that begin with “v=spf1”, so receivers take notice of none. Put them together in one.`) // prettier-ignore
  if (stranger.result === 'permerror') return judged('wrong', `Receivers cannot use the record: ${stranger.comment || 'it is not as the standard has it'}. At most ten look-ups may be needed for it.`) // prettier-ignore
  if (stranger.result === 'temperror') return judged('unknown', 'What the record refers to did not answer. Look again in a while.') // prettier-ignore
  if (stranger.result === 'pass') return judged('wrong', 'The record lets every server in the world send in your name. End it with “~all”.') // prettier-ignore
  const outside = servers.filter(({ result }) => result !== 'pass')
  if (servers.length > 0 && outside.length === servers.length) {
    return judged('weak', `The record does not name ${host} (${outside.map(({ ip }) => ip).join(', ')}). That is right only if that server sends from other addresses, as services for mail do: then use the “include:” that it asks for.`, { ...first, value: withNamed(only, named) }) // prettier-ignore
  }
  if (stranger.result === 'neutral' || stranger.result === 'none') return judged('weak', 'The record says nothing of servers that it does not name. End it with “~all”.') // prettier-ignore
  return judged('good', servers.length > 0 ? `${host} may send for ${domain}, others may not.` : `The record says who may send for ${domain}, and that others may not.`) // prettier-ignore
}

const isSpf = (text: string): boolean => /^v=spf1( |$)/i.test(text)
const isOwnMachine = (host: string): boolean => ['127.0.0.1', 'localhost', '::1', '[::1]'].includes(host) // prettier-ignore

/** The record with one more server in it, before the end. */
const withNamed = (record: string, named: string): string =>
  record.replace(/^v=spf1/i, `v=spf1 ${named}`)
