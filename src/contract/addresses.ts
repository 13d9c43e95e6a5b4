import { z } from 'zod'

const address = z.email('must be an email address like maren@shop.example').max(254)
const name = z.string().trim().min(1, 'Give it a name').max(120)

export const newSenderBody = z.strictObject({ address, name })

export const groupBody = z.strictObject({
  name,
  addresses: z.array(address).max(50),
})
export type GroupBody = z.infer<typeof groupBody>

const senderResponse = z.object({ address: z.string(), name: z.string(), verified: z.boolean() })
export type SenderResponse = z.infer<typeof senderResponse>

const groupResponse = z.object({
  key: z.string(),
  name: z.string(),
  addresses: z.array(z.string()),
})
export type GroupResponse = z.infer<typeof groupResponse>

/** From whom messages may come, the shop's own sender first, and the groups of its staff. */
export const addressBookResponse = z.object({
  senders: z.array(senderResponse),
  groups: z.array(groupResponse),
  postalAddress: z.string(),
})
export type AddressBookResponse = z.infer<typeof addressBookResponse>
