import { z } from 'zod'
import { isZone } from '../core/shared/time.ts'
import { newPassword } from './accounts.ts'

/** What a shop begins with, as its owner says it. */
export const shopBeginning = z.strictObject({
  name: z.string().trim().min(1, 'Enter the name that customers know').max(80),
  id: z.string().regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'Small letters, digits and dashes'),
  zone: z.string().refine(isZone, 'Choose a time zone like Europe/Lisbon'),
  currency: z
    .string()
    .trim()
    .regex(/^[A-Z]{3}$/, 'Three capital letters, like EUR'),
  locale: z.string().regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'A language tag like en-IE'),
  sender: z.email('Enter an address like hello@shop.example').trim().max(254),
  postalAddress: z.string().trim().max(300),
})

/** Who owns it. */
export const ownerBeginning = z.strictObject({
  name: z.string().trim().min(1, 'Enter your name').max(80),
  email: z.email('Enter an address like maren@shop.example').trim().max(254),
  password: newPassword,
})

export const beginningBody = z.strictObject({
  /** Of the link that the server's own machine prints. */
  token: z.string().max(100),
  owner: ownerBeginning,
  shop: shopBeginning,
})
export type BeginningBody = z.infer<typeof beginningBody>

/** Whether anybody is here yet. */
export const beginningResponse = z.object({ isEmpty: z.boolean() })

/** How far a shop has come on its way to its first message. */
export const firstStepsResponse = z.object({
  hasPostalAddress: z.boolean(),
  hasLogo: z.boolean(),
  hasKeyOrConnection: z.boolean(),
  hasEvents: z.boolean(),
  hasWorkflow: z.boolean(),
  isLive: z.boolean(),
  hasSent: z.boolean(),
})
export type FirstSteps = z.infer<typeof firstStepsResponse>
