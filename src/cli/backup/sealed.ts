import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto'
import { CommandError } from '../commandError.ts'

/** As for passwords (OWASP Password Storage Cheat Sheet): whoever finds a backup may try as long as they like. */
const COST = { N: 2 ** 17, r: 8, p: 1, maxmem: 256 * 1024 * 1024 }
const FORMAT = 'yomble-sealed-1'

/** Seals a text with a passphrase: AES-256-GCM under a key made by scrypt. */
export function sealed(text: string, passphrase: string): string {
  const [salt, iv] = [randomBytes(16), randomBytes(12)]
  const cipher = createCipheriv('aes-256-gcm', scryptSync(passphrase.normalize('NFC'), salt, 32, COST), iv) // prettier-ignore
  const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
  return [FORMAT, ...[salt, iv, cipher.getAuthTag(), body].map((part) => part.toString('base64'))].join('\n') // prettier-ignore
}

/** Opens what was sealed. Throws CommandError for another passphrase, or something that is no seal or was changed. */
export function opened(text: string, passphrase: string): string {
  const [format, ...parts] = text.trim().split('\n')
  const [salt, iv, tag, body] = parts.map((part) => Buffer.from(part, 'base64'))
  if (format !== FORMAT || !salt || !iv || !tag || !body) throw new CommandError('The keys of this backup cannot be read.') // prettier-ignore
  try {
    const decipher = createDecipheriv('aes-256-gcm', scryptSync(passphrase.normalize('NFC'), salt, 32, COST), iv) // prettier-ignore
    decipher.setAuthTag(tag)
    return decipher.update(body, undefined, 'utf8') + decipher.final('utf8')
  } catch {
    // The platform says no more than that it does not fit.
    throw new CommandError('This passphrase does not open the keys of the backup.')
  }
}
