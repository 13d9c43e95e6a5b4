import { z } from 'zod'

/** A passkey as its owner sees it. */
export const passkey = z.object({
  id: z.string(),
  name: z.string(),
  createdAt: z.int(),
  lastUsedAt: z.int().nullable(),
})
export type Passkey = z.infer<typeof passkey>
export const passkeysResponse = z.array(passkey)

/** A new one takes the password once more, and a name by which it is known again. */
export const newPasskeyBody = z.strictObject({
  name: z.string().trim().min(1, 'Enter a name').max(80),
  password: z.string().min(1, 'Enter your password').max(128),
})

const base64url = z.string().max(20_000).regex(/^[\w-]*$/, 'is not base64url') // prettier-ignore
const credential = { id: base64url.min(1).max(1400), rawId: base64url.min(1).max(1400), type: z.literal('public-key'), clientExtensionResults: z.record(z.string(), z.unknown()), authenticatorAttachment: z.string().max(40).nullish() } // prettier-ignore
/** What browsers answer when they have made one (`RegistrationResponseJSON`, Web Authentication Level 3); what is not needed of it is left out. */
export const madePasskey = z.object({
  ...credential,
  response: z.object({
    clientDataJSON: base64url,
    attestationObject: base64url,
    transports: z.array(z.string().max(20)).max(10).optional(),
  }),
})
/** … and when one has signed (`AuthenticationResponseJSON`). */
export const signedByPasskey = z.object({
  ...credential,
  response: z.object({
    clientDataJSON: base64url,
    authenticatorData: base64url,
    signature: base64url,
    userHandle: base64url.nullish(),
  }),
})
export const keepPasskeyBody = z.strictObject({
  name: newPasskeyBody.shape.name,
  made: madePasskey,
})

/** What a browser is to make a passkey from: the standard's own JSON, handed to it as it is. */
export const creationOptions = z.looseObject({
  challenge: z.string(),
  rp: z.object({ id: z.string().optional(), name: z.string() }),
  user: z.object({ id: z.string(), name: z.string(), displayName: z.string() }),
  pubKeyCredParams: z.array(z.object({ alg: z.int(), type: z.literal('public-key') })),
})
/** … and what it is to have signed. */
export const requestOptions = z.looseObject({ challenge: z.string() })
