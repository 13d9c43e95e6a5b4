import { z } from 'zod'
import { shopBeginning } from './beginning.ts'

/** What is set of a shop itself. Its currency stays: amounts are kept in it. */
export const shopFactsBody = z.strictObject({
  ...shopBeginning.pick({ name: true, zone: true, locale: true }).shape,
  senderName: z.string().trim().min(1, 'Enter a name').max(120),
  /** One that was confirmed. */
  senderAddress: z.email().max(254),
  /** Nobody puts a workflow live alone: another has to have asked for it. */
  secondPerson: z.boolean(),
  /** What only owners may do takes one who has signed in with more than a password. */
  strongOwners: z.boolean(),
})
export type ShopFactsBody = z.infer<typeof shopFactsBody>
