import { z } from 'zod'

/** How a sender signs what it sends: by a digest of the body in a header, or as Standard Webhooks says. */
export const signatureRule = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('hmac'),
    header: z.string().trim().regex(/^[A-Za-z0-9-]{1,80}$/, 'must be the name of a header'),
    encoding: z.enum(['hex', 'base64']),
    /** What stands before the digest: "sha256=". */
    prefix: z.string().max(40).default(''),
    secret: z.string().min(8, 'must have at least 8 characters').max(500),
  }),
  z.strictObject({
    kind: z.literal('standard'),
    secret: z.string().min(8, 'must have at least 8 characters').max(500),
  }),
]) // prettier-ignore
export type SignatureRule = z.infer<typeof signatureRule>
