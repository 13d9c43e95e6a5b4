import { lookup as dnsLookup, type LookupAddress, type LookupOptions } from 'node:dns'
import http, { type IncomingMessage } from 'node:http'
import https from 'node:https'
import { isPublicAddress } from './publicAddress.ts'

/** The address lies where nothing may be reached from here. */
export class PrivateAddressError extends Error {}

export interface PublicRequest {
  method: 'GET' | 'POST'
  headers: Readonly<Record<string, string>>
  /** Sent as it is; nothing for GET. */
  body?: string
  /** Lifts what is refused, for tests and the demo on loopback. */
  allowPrivate: boolean
  timeoutMs: number
}

/**
 * Asks somebody else's server over HTTP(S). The address that is really connected to is checked, not the name, and redirects are
 * not followed: nobody's address reaches into the network that this server stands in. Rejects with
 * PrivateAddressError, TypeError for other protocols, or what the network says.
 */
export function askPublic(url: URL, { method, headers, body, allowPrivate, timeoutMs }: PublicRequest): Promise<IncomingMessage> {
  const protocol = { 'http:': http, 'https:': https }[url.protocol]
  if (!protocol) throw new TypeError(`nothing is reached over ${url.protocol}`)
  if (!allowPrivate) refusePrivate(url.hostname)
  return new Promise((resolve, reject) => {
    const options = { method, headers, timeout: timeoutMs, ...(allowPrivate ? {} : { lookup: publicLookup }) }
    const request = protocol.request(url, options, resolve)
    request.on('timeout', () => request.destroy(new Error('it did not answer in time')))
    request.on('error', reject)
    request.end(body)
  })
} // prettier-ignore

/** Judges what is never looked up: literal addresses, and this machine's own name (RFC 6761 6.3). */
function refusePrivate(hostname: string): void {
  const bare = hostname.replaceAll(/[[\]]/g, '').replace(/\.$/, '').toLowerCase()
  const isLiteral = /^[\d.]+$/.test(bare) || bare.includes(':')
  const isOwn = bare === 'localhost' || bare.endsWith('.localhost')
  if (isOwn || (isLiteral && !isPublicAddress(bare))) {
    throw new PrivateAddressError(`the address ${bare} may not be reached`)
  }
}

type LookupDone = (error: Error | null, address: string | LookupAddress[], family?: number) => void

/** Looks a name up and hands on only public addresses. */
function publicLookup(hostname: string, options: LookupOptions, done: LookupDone): void {
  dnsLookup(hostname, { ...options, all: true }, (error, addresses) => {
    if (error) return done(error, [])
    const good = addresses.filter(({ address }) => isPublicAddress(address))
    const [first] = good
    if (!first) {
      return done(new PrivateAddressError(`${hostname} has no address that may be reached`), [])
    }
    return options.all ? done(null, good) : done(null, first.address, first.family)
  })
}
