import { lookup as dnsLookup, type LookupAddress, type LookupOptions } from 'node:dns'
import http from 'node:http'
import https from 'node:https'
import { Webhook } from 'standardwebhooks'
import type { Instant } from '../../core/shared/time.ts'
import type { HandOver } from '../platform/handOver.ts'
import { realNow } from '../platform/realTime.ts'
import { isPublicAddress } from './publicAddress.ts'

/** A signed call to a shop's own system. */
export interface OutgoingHook {
  /** The same however often it is tried, so that the receiver can drop a second one. */
  id: string
  url: string
  body: object
  /** Signs it, as Standard Webhooks has it: `whsec_…`. */
  secret: string
}

export interface HookCaller {
  call: (hook: OutgoingHook) => Promise<HandOver>
}

const TIMEOUT_MS = 10_000

class PrivateAddressError extends Error {}

/**
 * Calls hooks over HTTP(S), signed as Standard Webhooks v1 asks. The address that is really connected
 * to is checked, not the name, and redirects are not followed: a hook must not reach into the network
 * the server stands in. `allowPrivate` lifts that, for tests and the demo on loopback.
 */
export function hookCaller({ allowPrivate }: { allowPrivate: boolean }): HookCaller {
  return {
    call: async ({ id, url, body, secret }) => {
      const text = JSON.stringify(body)
      const sentAt: Instant = realNow()
      const signature = new Webhook(secret).sign(id, new Date(sentAt), text)
      const headers = {
        'content-type': 'application/json',
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(sentAt / 1000)),
        'webhook-signature': signature,
      }
      try {
        return readAnswer(await post(new URL(url), headers, text, allowPrivate))
      } catch (error) {
        const { message } = error as Error
        const isOurs = error instanceof PrivateAddressError || error instanceof TypeError
        if (isOurs) return { kind: 'permanent', error: message, badAddress: false }
        return { kind: 'temporary', error: message || 'the hook could not be reached' }
      }
    },
  }
}

function readAnswer(status: number): HandOver {
  if (status >= 200 && status < 300) return { kind: 'sent' }
  const error = `the hook answered ${status}`
  if (status >= 500 || status === 429 || status === 408) return { kind: 'temporary', error }
  return { kind: 'permanent', error, badAddress: false }
}

function post(
  url: URL,
  headers: Record<string, string>,
  body: string,
  allowPrivate: boolean,
): Promise<number> {
  const protocol = { 'http:': http, 'https:': https }[url.protocol]
  if (!protocol) throw new TypeError(`hooks cannot be called over ${url.protocol}`)
  if (!allowPrivate) refusePrivate(url.hostname)
  return new Promise((resolve, reject) => {
    const request = protocol.request(
      url,
      {
        method: 'POST',
        headers,
        timeout: TIMEOUT_MS,
        ...(allowPrivate ? {} : { lookup: publicLookup }),
      },
      (response) => {
        response.resume()
        resolve(response.statusCode ?? 0)
      },
    )
    request.on('timeout', () => request.destroy(new Error('the hook did not answer in time')))
    request.on('error', reject)
    request.end(body)
  })
}

/** Judges what is never looked up: literal addresses, and this machine's own name (RFC 6761 6.3). */
function refusePrivate(hostname: string): void {
  const bare = hostname.replaceAll(/[[\]]/g, '').replace(/\.$/, '').toLowerCase()
  const isLiteral = /^[\d.]+$/.test(bare) || bare.includes(':')
  const isOwn = bare === 'localhost' || bare.endsWith('.localhost')
  if (isOwn || (isLiteral && !isPublicAddress(bare))) {
    throw new PrivateAddressError(`hooks may not reach the address ${bare}`)
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
      return done(new PrivateAddressError(`${hostname} has no address that hooks may reach`), [])
    }
    return options.all ? done(null, good) : done(null, first.address, first.family)
  })
}
