import { randomBytes } from 'node:crypto'

/** A fresh signing secret as Standard Webhooks writes it: `whsec_` and 32 bytes in base64. */
export function newHookSecret(): string {
  return `whsec_${randomBytes(32).toString('base64')}`
}
