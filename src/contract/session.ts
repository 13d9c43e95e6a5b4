import { z } from 'zod'
import { role } from './roles.ts'
import { keyScope } from './scopes.ts'

export const signInBody = z.object({
  email: z.string().trim().min(1, 'Enter your email address').max(254),
  password: z.string().min(1, 'Enter your password').max(128),
  /** Of the second factor, where there is one; or one for a lost device. */
  code: z.string().trim().max(40).optional(),
})

export const clockResponse = z.object({
  now: z.int(),
  movedByHand: z.boolean(),
  target: z.int().nullable(),
})
export type ClockResponse = z.infer<typeof clockResponse>

/** The header by which a page says which shop it shows: what it sends must never land in another. */
export const SHOP_HEADER = 'x-yomble-shop'

/** Which of their shops somebody goes to. */
export const switchShopBody = z.strictObject({ shopId: z.string().max(40) })

export const sessionResponse = z.object({
  user: z.object({
    name: z.string(),
    email: z.string(),
    role,
    hasSecondFactor: z.boolean(),
    /** It took more than a password to sign in. */
    isStrong: z.boolean(),
  }),
  shop: z.object({
    id: z.string(),
    name: z.string(),
    zone: z.string(),
    currency: z.string(),
    locale: z.string(),
    defaultSender: z.object({ name: z.string(), address: z.string() }),
  }),
  /** All that they work in, this one among them. */
  shops: z.array(z.object({ id: z.string(), name: z.string() })),
})
export type SessionResponse = z.infer<typeof sessionResponse>

/** The end of the century: nothing that a shop tries out lies beyond it. */
const LAST_INSTANT = 4_102_444_800_000

/** Where the clock is to go: an instant, or the next moment at which something is due. */
export const moveClockBody = z.union([
  z.strictObject({ target: z.int().positive().max(LAST_INSTANT) }),
  z.strictObject({ toNextDue: z.literal(true) }),
])

export const apiKeyResponse = z.object({
  id: z.string(),
  name: z.string(),
  prefix: z.string(),
  scopes: z.array(keyScope),
  createdAt: z.int(),
  lastUsedAt: z.int().nullable(),
})
export type ApiKeyResponse = z.infer<typeof apiKeyResponse>
export const newApiKeyBody = z.object({
  name: z.string().trim().min(1, 'Give the key a name').max(80),
  scopes: z.array(keyScope).min(1, 'Choose what it may do').default(['events']),
})
export const newApiKeyResponse = apiKeyResponse.extend({ key: z.string() })
