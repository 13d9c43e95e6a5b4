import type { HandOver } from '../platform/handOver.ts'

/** A text message ready to be handed over. */
export interface OutgoingSms {
  /** The same however often it is tried, so that the gateway sends it once. */
  id: string
  to: string
  text: string
}

export interface SmsGateway {
  send: (sms: OutgoingSms) => Promise<HandOver>
}

const TIMEOUT_MS = 10_000

/**
 * Hands text messages to a gateway over HTTP: `POST {url}` with `{ id, to, text }` as JSON. 2xx means
 * taken, 4xx never, anything else later. The gateway knows a message by its id, so that trying again
 * does no harm.
 */
export function httpSmsGateway(url: string): SmsGateway {
  return {
    send: async (sms) => {
      try {
        const response = await fetch(url, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'idempotency-key': sms.id },
          body: JSON.stringify(sms),
          signal: AbortSignal.timeout(TIMEOUT_MS),
        })
        const answer = (await response.text()).slice(0, 300)
        if (response.ok) return { kind: 'sent' }
        const error = `the gateway answered ${response.status}: ${answer}`
        if (response.status >= 500 || response.status === 429) return { kind: 'temporary', error }
        return { kind: 'permanent', error, badAddress: false }
      } catch (error) {
        return { kind: 'temporary', error: `the gateway: ${(error as Error).message}` }
      }
    },
  }
}
