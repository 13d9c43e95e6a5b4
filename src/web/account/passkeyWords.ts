import type {
  PublicKeyCredentialCreationOptionsJSON,
  PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser'

/** What is handed to the browser as the server gave it. */
export type CreationOptions = PublicKeyCredentialCreationOptionsJSON
export type RequestOptions = PublicKeyCredentialRequestOptionsJSON

/** Why a browser made no passkey, or signed with none, in words; its own where there are none better. */
export function passkeyWords(error: unknown): string {
  const { name, message } = error instanceof Error ? error : new Error('It gave no reason.')
  // A browser says the same of who changed their mind and who took too long, so that no site learns what is on the device.
  if (name === 'NotAllowedError' || name === 'AbortError')
    return 'Nothing came from the device. Try once more.'
  if (name === 'InvalidStateError') return 'This device has a passkey for your account already.'
  if (name === 'SecurityError') {
    return 'The browser takes passkeys only at the address that Yomble is installed for (PUBLIC_URL).'
  }
  return `The browser did not do it: ${message}`
}
