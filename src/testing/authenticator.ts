import { createHash, generateKeyPairSync, randomBytes, sign } from 'node:crypto'
import { isoCBOR } from '@simplewebauthn/server/helpers'

/** User present, user verified (Web Authentication Level 3, 6.1). */
const PRESENT = 0x01
const VERIFIED = 0x04
const HAS_CREDENTIAL = 0x40

interface Sitting {
  /** The origin that the browser shows. */
  origin: string
  rpID: string
  /** Whether it has made sure whose finger that is. */
  verifies?: boolean
}

const base64url = (bytes: Uint8Array | string): string => Buffer.from(bytes).toString('base64url')
const digest = (value: Uint8Array | string): Buffer => createHash('sha256').update(value).digest()

/**
 * A device with one passkey (ES256), as Web Authentication Level 3 has authenticators answer through a browser; attestation “none”.
 */
export function authenticator() {
  const { publicKey, privateKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' })
  const id = randomBytes(16)
  let uses = 0
  const ids = { id: base64url(id), rawId: base64url(id), type: 'public-key', clientExtensionResults: {} } // prettier-ignore

  const data = ({ rpID, verifies = true }: Sitting, more: Uint8Array | null) => {
    uses += 1
    const flags = PRESENT | (verifies ? VERIFIED : 0) | (more ? HAS_CREDENTIAL : 0)
    const head = Buffer.alloc(5)
    head.writeUInt8(flags, 0)
    head.writeUInt32BE(uses, 1)
    return Buffer.concat([digest(rpID), head, more ?? Buffer.alloc(0)])
  }
  const client = (type: string, challenge: string, { origin }: Sitting) =>
    JSON.stringify({ type, challenge, origin, crossOrigin: false })

  return {
    id: ids.id,
    /** Makes the passkey (`navigator.credentials.create`). */
    make(challenge: string, sitting: Sitting) {
      const { x = '', y = '' } = publicKey.export({ format: 'jwk' })
      const cose = isoCBOR.encode(new Map<number, number | Uint8Array>([[1, 2], [3, -7], [-1, 1], [-2, new Uint8Array(Buffer.from(x, 'base64url'))], [-3, new Uint8Array(Buffer.from(y, 'base64url'))]])) // prettier-ignore
      const length = Buffer.alloc(2)
      length.writeUInt16BE(id.length)
      const credential = Buffer.concat([Buffer.alloc(16), length, id, cose])
      const authData = new Uint8Array(data(sitting, credential))
      const attestationObject = isoCBOR.encode(new Map<string, string | Uint8Array | Map<never, never>>([['fmt', 'none'], ['attStmt', new Map<never, never>()], ['authData', authData]] as const)) // prettier-ignore
      const clientDataJSON = base64url(client('webauthn.create', challenge, sitting))
      return { ...ids, response: { clientDataJSON, attestationObject: base64url(attestationObject), transports: ['internal'] } } // prettier-ignore
    },
    /** Signs with it (`navigator.credentials.get`). */
    sign(challenge: string, sitting: Sitting) {
      const clientData = client('webauthn.get', challenge, sitting)
      const authData = data(sitting, null)
      const signature = sign('sha256', Buffer.concat([authData, digest(clientData)]), privateKey)
      return { ...ids, response: { clientDataJSON: base64url(clientData), authenticatorData: base64url(authData), signature: base64url(signature) } } // prettier-ignore
    },
    /** As a copy would that has signed less often. */
    rewind(): void {
      uses = 0
    },
  }
}
