import { z } from 'zod'
import { emailAddress } from '../core/events/entities.ts'

export const counterProduct = z.object({
  id: z.string(),
  title: z.string(),
  category: z.string().nullable(),
  priceMinor: z.int(),
  currency: z.string(),
})
export type CounterProduct = z.infer<typeof counterProduct>

export const counterCustomer = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string().nullable(),
  country: z.string().nullable(),
  orders: z.int(),
})
export type CounterCustomer = z.infer<typeof counterCustomer>

export const counterOrder = z.object({
  id: z.string(),
  number: z.string(),
  customer: z.string(),
  status: z.string(),
  totalMinor: z.int(),
  currency: z.string(),
  items: z.int(),
  at: z.int(),
})
export type CounterOrder = z.infer<typeof counterOrder>

export const customerQuery = z.object({ search: z.string().trim().max(100).default('') })

export const placeOrderBody = z.object({
  customer: z.union([
    z.strictObject({ id: z.string().min(1) }),
    z.strictObject({
      email: emailAddress,
      firstName: z.string().trim().max(200).optional(),
      lastName: z.string().trim().max(200).optional(),
      emailConsent: z.boolean(),
    }),
  ]),
  lines: z
    .array(z.strictObject({ productId: z.string(), quantity: z.int().min(1).max(999) }))
    .min(1, 'Put at least one product into the order')
    .max(60),
  /** A code to redeem. */
  code: z.string().trim().max(60).default(''),
})
export type PlaceOrderBody = z.input<typeof placeOrderBody>

/** What can be done to an order at the counter. */
export const orderAction = z.enum([
  'paid',
  'fulfilled',
  'delivered',
  'cancelled',
  'refunded',
  'payment_failed',
])
export type OrderAction = z.infer<typeof orderAction>
export const orderActionBody = z.object({ action: orderAction })
