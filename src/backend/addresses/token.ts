import { readToken, signedToken } from '../platform/signed.ts'

/** What a confirmation is asked for. */
export interface AskedSender {
  shopId: string
  address: string
}

/** The opaque, signed part of the link by which a sender is confirmed. */
export function senderToken(secret: string, { shopId, address }: AskedSender): string {
  return signedToken(secret, 'sender', [shopId, address.toLowerCase()])
}

/** What a token confirms, or null for one that was not made here. */
export function readSenderToken(secrets: readonly string[], token: string): AskedSender | null {
  const values = readToken(secrets, 'sender', token)
  if (!values) return null
  const [shopId, address] = values as [string, string]
  return { shopId, address }
}
