import { createHmac, timingSafeEqual } from 'node:crypto'
import type { Followed } from './links/follow.ts'

/** 80 bits, which nobody guesses; small letters and digits alone, since some servers keep no others. */
const SIGNATURE_CHARS = 16

const sign = (secret: string, { shopId, message }: Followed): string =>
  BigInt(`0x${createHmac('sha256', secret).update(JSON.stringify(['return', shopId, message])).digest('hex')}`)
    .toString(36)
    .padStart(50, '0')
    .slice(0, SIGNATURE_CHARS) // prettier-ignore

/** The address that a message's bounce comes back to: `bounces+<message>-<signature>@…` for `bounces@…`. */
export function returnPathOf(secret: string, returnPath: string, message: Followed): string {
  const [local, domain] = returnPath.split('@')
  return `${local}+${message.message.toString(36)}-${sign(secret, message)}@${domain}`
}

const MARK = /\+([0-9a-z]{1,12})-([0-9a-z]{16})@/i

/** Of which message of a shop an address is the return path; null for one that was not made for it. */
export function readReturnPath(
  secrets: readonly string[],
  shopId: string,
  address: string,
): Followed | null {
  const [, id = '', signature = ''] = MARK.exec(address)?.map((part) => part.toLowerCase()) ?? []
  if (id === '') return null
  const about = { shopId, message: Number.parseInt(id, 36) }
  const given = Buffer.from(signature)
  return secrets.some((secret) => timingSafeEqual(Buffer.from(sign(secret, about)), given))
    ? about
    : null
}
