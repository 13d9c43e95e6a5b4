import { Resolver } from 'node:dns/promises'

const TIMEOUT_MS = 3000
const TRIES = 2

/** A resolver that asks the machine's own name server, or the one that is given as `host:port`. */
export function openDns(server?: string): Resolver {
  const resolver = new Resolver({ timeout: TIMEOUT_MS, tries: TRIES })
  if (server !== undefined) resolver.setServers([server])
  return resolver
}

const NOTHING: ReadonlySet<string> = new Set(['ENOTFOUND', 'ENODATA'])

/** What a look-up found; nothing where there is nothing. Throws where the name server does not answer. */
async function orNone<Found>(look: Promise<Found[]>): Promise<Found[]> {
  try {
    return await look
  } catch (error) {
    if (NOTHING.has((error as NodeJS.ErrnoException).code ?? '')) return []
    throw error
  }
}

/** Text records of a name, each put together of its pieces (RFC 7208 section 3.3). */
export const textsAt = async (dns: Resolver, name: string): Promise<string[]> =>
  (await orNone(dns.resolveTxt(name))).map((pieces) => pieces.join(''))

/** Who takes mail for a name. */
export const exchangesOf = (dns: Resolver, name: string) => orNone(dns.resolveMx(name))

/** The addresses of a name, IPv4 first. */
export async function addressesOf(dns: Resolver, name: string): Promise<string[]> {
  const [four, six] = await Promise.all([orNone(dns.resolve4(name)), orNone(dns.resolve6(name))])
  return [...four, ...six]
}
