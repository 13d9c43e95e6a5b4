import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto'

const ALGORITHM = 'aes-256-gcm'
const IV_BYTES = 12
const TAG_BYTES = 16

const keyOf = (secret: string, use: string): Buffer =>
  Buffer.from(hkdfSync('sha256', secret, '', `yomble ${use}`, 32))

/** A text that can be read only with the secret, which is not in the database (AES-256-GCM, a key of its own for each use). */
export function sealText(secret: string, use: string, text: string): string {
  const iv = randomBytes(IV_BYTES)
  const cipher = createCipheriv(ALGORITHM, keyOf(secret, use), iv)
  const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
  return Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString('base64')
}

/** Reads a sealed text with whichever of the secrets it was sealed with. Null where none is right, or it was changed. */
export function openText(secrets: readonly string[], use: string, sealed: string): string | null {
  const bytes = Buffer.from(sealed, 'base64')
  const iv = bytes.subarray(0, IV_BYTES)
  const tag = bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES)
  if (tag.length < TAG_BYTES) return null
  for (const secret of secrets) {
    const decipher = createDecipheriv(ALGORITHM, keyOf(secret, use), iv).setAuthTag(tag)
    try {
      return decipher.update(bytes.subarray(IV_BYTES + TAG_BYTES), undefined, 'utf8') + decipher.final('utf8') // prettier-ignore
    } catch {
      // Sealed with another: the next may be right.
    }
  }
  return null
}
