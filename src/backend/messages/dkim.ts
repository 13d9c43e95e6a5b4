import { createPrivateKey } from 'node:crypto'
import { readFileSync } from 'node:fs'
import type { Config } from '../platform/config.ts'
import { ConfigError, toError } from '../platform/errors.ts'

/** With what mails are signed (RFC 6376): whoever receives one can tell that it is from the domain. */
export interface Dkim {
  domainName: string
  keySelector: string
  /** PEM. */
  privateKey: string
}

/** The signing key the environment names; null where there is none. Throws ConfigError for half of one. */
export function readDkim({ DKIM_DOMAIN, DKIM_SELECTOR, DKIM_KEY_FILE }: Config): Dkim | null {
  const given = [DKIM_DOMAIN, DKIM_SELECTOR, DKIM_KEY_FILE].filter(Boolean)
  if (given.length === 0) return null
  if (!DKIM_DOMAIN || !DKIM_SELECTOR || !DKIM_KEY_FILE) {
    throw new ConfigError('DKIM_DOMAIN, DKIM_SELECTOR and DKIM_KEY_FILE belong together: set all or none.') // prettier-ignore
  }
  try {
    const privateKey = readFileSync(DKIM_KEY_FILE, 'utf8')
    const { asymmetricKeyType: type } = createPrivateKey(privateKey)
    if (type !== 'rsa')
      throw new Error(`it is a key for ${type}, and RSA is what all receivers read`)
    return { domainName: DKIM_DOMAIN, keySelector: DKIM_SELECTOR, privateKey }
  } catch (error) {
    throw new ConfigError(`DKIM_KEY_FILE cannot be used: ${toError(error).message}`)
  }
}
