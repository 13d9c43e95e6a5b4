import { createHmac, timingSafeEqual } from 'node:crypto'

/** What a token is for: one made for one thing says nothing for another. */
export type TokenUse = 'unsubscribe' | 'follow' | 'sender' | 'calendar' | 'beginning'

const sign = (secret: string, use: TokenUse, payload: string, length: number): string =>
  createHmac('sha256', secret).update(`${use}.${payload}`).digest('base64url').slice(0, length)

/** 256 bits; links in text have room for 160, which nobody guesses either. */
const FULL = 43
const SHORT = 27
const NAME = 32
const lengthOf = (use: TokenUse): number => (use === 'follow' ? SHORT : FULL)

/** A name for some values that nobody else can guess, and that tells nothing of them. */
export function secretName(secret: string, use: TokenUse, values: readonly unknown[]): string {
  return sign(secret, use, JSON.stringify(values), NAME)
}

/** Some values as a part of an address that nobody else can make (HMAC, RFC 2104). */
export function signedToken(secret: string, use: TokenUse, values: readonly unknown[]): string {
  const payload = Buffer.from(JSON.stringify(values)).toString('base64url')
  return `${payload}.${sign(secret, use, payload, lengthOf(use))}`
}

/**
 * The values of a token; null for one that was not made here, or for something else. What was signed with a former secret is good
 * for as long as that is among `secrets`: messages that were sent are read for years.
 */
export function readToken(
  secrets: readonly string[],
  use: TokenUse,
  token: string,
): unknown[] | null {
  const [payload = '', signature = ''] = token.split('.')
  const given = Buffer.from(signature)
  const isOwn = secrets.some((secret) => {
    const wanted = Buffer.from(sign(secret, use, payload, lengthOf(use)))
    return wanted.length === given.length && timingSafeEqual(wanted, given)
  })
  if (!isOwn) return null
  return JSON.parse(Buffer.from(payload, 'base64url').toString()) as unknown[]
}
