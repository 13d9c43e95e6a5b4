import { Webhook } from 'standardwebhooks'
import type { Instant } from '../../core/shared/time.ts'
import type { HandOver } from '../platform/handOver.ts'
import { askPublic, PrivateAddressError } from '../platform/publicHttp.ts'
import { realNow } from '../platform/realTime.ts'

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

async function post(
  url: URL,
  headers: Record<string, string>,
  body: string,
  allowPrivate: boolean,
): Promise<number> {
  const answer = await askPublic(url, { method: 'POST', headers, body, allowPrivate, timeoutMs: TIMEOUT_MS }) // prettier-ignore
  answer.resume()
  return answer.statusCode ?? 0
}
