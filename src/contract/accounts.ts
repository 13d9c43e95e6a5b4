import { z } from 'zod'
import { role } from './roles.ts'

/** A password that somebody chooses. */
export const newPassword = z
  .string()
  .min(12, 'A password has at least 12 characters; several words are easy to remember')
  .max(128, 'A password has at most 128 characters')
const email = z.email('Enter an address like maren@shop.example').trim().max(254)
const name = z.string().trim().min(1, 'Enter a name').max(80)

export const changePasswordBody = z.strictObject({
  current: z.string().min(1, 'Enter your present password').max(128),
  next: newPassword,
})
export const choosePasswordBody = z.strictObject({ next: newPassword })
export const resetBody = z.strictObject({ email })

/** What a device is set up with. */
export const newSecondFactor = z.object({ secret: z.string(), uri: z.string() })
export const turnOnBody = z.strictObject({
  secret: z.string().regex(/^[A-Z2-7]{16,64}$/, 'is no secret'),
  code: z
    .string()
    .trim()
    .regex(/^\d{6}$/, 'Enter the six digits that the device shows'),
})
/** For when the device is lost; each is taken once. */
export const recoveryCodes = z.object({ codes: z.array(z.string()) })
export const turnOffBody = z.strictObject({
  password: z.string().min(1, 'Enter your password').max(128),
})

/** Where somebody is signed in. */
export const sessionsResponse = z.array(
  z.object({ id: z.string(), startedAt: z.int(), agent: z.string(), isThis: z.boolean() }),
)
/** For whom a link is by which a password is chosen. */
export const linkResponse = z.object({
  kind: z.enum(['invitation', 'reset']),
  email: z.string(),
  name: z.string(),
})

export const user = z.object({
  id: z.string(),
  email: z.string(),
  name: z.string(),
  role,
  isInvited: z.boolean(),
})
export type User = z.infer<typeof user>
export const usersResponse = z.array(user)
export const inviteBody = z.strictObject({ email, name, role })
export const roleBody = z.strictObject({ role })
