import { z } from 'zod'
import { emailAddress, orderStatus, subscriptionStatus } from '../core/events/entities.ts'

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
  status: orderStatus,
  totalMinor: z.int(),
  currency: z.string(),
  items: z.int(),
  at: z.int(),
})
export type CounterOrder = z.infer<typeof counterOrder>

export const customerQuery = z.object({ search: z.string().trim().max(100).default('') })

/** Somebody new, as far as the counter asks. */
export const newCustomer = z.strictObject({
  email: emailAddress,
  firstName: z.string().trim().max(200).optional(),
  lastName: z.string().trim().max(200).optional(),
  emailConsent: z.boolean(),
})
const who = z.union([z.strictObject({ id: z.string().min(1) }), newCustomer])
const lines = z
  .array(z.strictObject({ productId: z.string(), quantity: z.int().min(1).max(999) }))
  .min(1, 'Choose at least one product')
  .max(60)

export const placeOrderBody = z.object({
  customer: who,
  lines,
  /** For classes and the like: when what is booked begins. */
  bookedFor: z.int().positive().optional(),
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
  'processing',
  'completed',
  'problem',
])
export type OrderAction = z.infer<typeof orderAction>
export const orderActionBody = z.object({ action: orderAction })

export const counterReview = z.object({
  stars: z.int().min(1).max(5),
  text: z.string().trim().max(2000).default(''),
})

/** What can happen at the counter besides orders: with products, or with the customer alone. */
export const counterHappening = z.discriminatedUnion('kind', [
  z.object({ kind: z.enum(['signsUp', 'detailsChange', 'saysYes', 'saysNo']), customer: who }),
  z.object({ kind: z.enum(['basket', 'checkout', 'view', 'subscription']), customer: who, lines }),
  z.object({ kind: z.literal('review'), customer: who, lines, ...counterReview.shape }),
])
export type CounterHappening = z.infer<typeof counterHappening>

export const counterSubscription = z.object({
  id: z.string(),
  customer: z.string(),
  title: z.string(),
  status: subscriptionStatus,
  nextPaymentAt: z.int().nullable(),
})
export type CounterSubscription = z.infer<typeof counterSubscription>

/** What can be done to a subscription at the counter. */
export const subscriptionAction = z.enum([
  'renewed',
  'payment_failed',
  'trial_ended',
  'sooner',
  'paused',
  'running',
  'cancelled',
  'ended',
])
export type SubscriptionAction = z.infer<typeof subscriptionAction>
export const subscriptionActionBody = z.object({ action: subscriptionAction })

/** An event that came in, as the counter lists it. */
export const counterEvent = z.object({
  seq: z.int(),
  at: z.int(),
  what: z.string(),
  customer: z.string(),
  about: z.string(),
})
export type CounterEvent = z.infer<typeof counterEvent>
