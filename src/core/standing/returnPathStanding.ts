import type { Standing } from './standing.ts'

/** What the domain name system says of where bounces go. */
export interface ReturnPathFacts {
  /** The domain of the return path. */
  domain: string
  /** Bounces go to an address of their own, by which each is told to its message. */
  hasOwn: boolean
  exchanges: readonly { exchange: string; priority: number }[]
  /** The domain has an address, which takes the place of an exchange (RFC 5321 section 5.1). */
  hasAddress: boolean
}

/** Whether what comes back, bounces and answers, comes back at all. */
export function returnPathStanding(facts: ReturnPathFacts): Standing {
  const { domain, hasOwn, exchanges, hasAddress } = facts
  const judged = (state: Standing['state'], says: string): Standing => ({
    kind: 'returnPath',
    state,
    says,
    found: exchanges.map(({ exchange, priority }) => `${priority} ${exchange}`),
    record: null,
  })
  // RFC 7505: an exchange without a name says that no mail is taken.
  if (exchanges.length === 1 && exchanges[0]?.exchange === '') return judged('wrong', `${domain} says that it takes no mail, so many receivers refuse what comes from it.`) // prettier-ignore
  if (exchanges.length === 0 && !hasAddress) return judged('wrong', `No mail server takes mail for ${domain}: bounces are lost, and many receivers refuse mail from a domain that cannot be answered.`) // prettier-ignore
  if (!hasOwn) return judged('weak', `Bounces come back to the sender's own mailbox at ${domain}, where nobody counts them. With RETURN_PATH each is told to its message by itself.`) // prettier-ignore
  return judged('good', `Bounces come back to ${domain}, each with the name of its message.`)
}
