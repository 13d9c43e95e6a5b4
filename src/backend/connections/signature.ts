import { createHmac, timingSafeEqual } from 'node:crypto'
import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import type { SignatureRule } from '../../core/connections/signature.ts'

export type Headers = Readonly<Record<string, string | string[] | undefined>>

/**
 * True where a body is signed as its connection asks: HMAC with SHA-256 over the body as it came (RFC 2104), or Standard
 * Webhooks, which also refuses what is more than five minutes old. True for one that asks for nothing.
 */
export function isSigned(rule: SignatureRule | null, headers: Headers, body: string): boolean {
  if (rule === null) return true
  if (rule.kind === 'standard') return isStandard(rule.secret, headers, body)
  const given = headers[rule.header.toLowerCase()]
  if (typeof given !== 'string' || !given.startsWith(rule.prefix)) return false
  const wanted = createHmac('sha256', rule.secret).update(body).digest()
  const got = Buffer.from(given.slice(rule.prefix.length), rule.encoding)
  return got.length === wanted.length && timingSafeEqual(got, wanted)
}

function isStandard(secret: string, headers: Headers, body: string): boolean {
  const plain = Object.fromEntries(
    Object.entries(headers).flatMap(([name, value]) => typeof value === 'string' ? [[name, value]] : []),
  )
  try {
    new Webhook(secret).verify(body, plain)
    return true
  } catch (error) {
    if (error instanceof WebhookVerificationError) return false
    throw error
  }
} // prettier-ignore
