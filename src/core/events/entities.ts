import { z } from 'zod'
import { isZone, parseInstant } from '../shared/time.ts'

const id = z.string().trim().min(1).max(200)
const currency = z.string().regex(/^[A-Z]{3}$/, 'must be an ISO 4217 code like EUR')
const amountMinor = z.int().min(-1e13).max(1e13)
const text = (max: number) => z.string().trim().max(max)

/** An RFC 3339 timestamp, kept as the text it came as. */
export const timestamp = z
  .string()
  .refine((value) => parseInstant(value) !== null, 'must be an RFC 3339 time with an offset')

/**
 * An address that can be written to. Legal oddities that shops do not meet (quoted local parts,
 * address literals, names without a dot) are refused, as are lengths beyond RFC 5321 4.5.3.1.
 */
export const emailAddress = z
  .string()
  .trim()
  .max(254)
  .regex(
    /^(?!\.)(?!.*\.\.)[A-Za-z0-9.!#$%&'*+/=?^_`{|}~\u0080-\uffff-]{1,64}(?<!\.)@(?:(?!-)[A-Za-z0-9\u0080-\uffff-]{1,63}(?<!-)\.)+(?!-)[A-Za-z0-9\u0080-\uffff-]{2,63}(?<!-)$/,
    'must be an email address like ines@example.org',
  )

/** A customer as events carry it. Everything but the id may be unknown. */
export const customerSchema = z.object({
  id,
  email: emailAddress.nullish(),
  firstName: text(200).nullish(),
  lastName: text(200).nullish(),
  phone: text(40).nullish(),
  /** IANA zone name. */
  zone: z.string().refine(isZone, 'must be an IANA zone like Europe/Lisbon').nullish(),
  /** ISO 3166-1 alpha-2. */
  country: z
    .string()
    .regex(/^[A-Z]{2}$/, 'must be an ISO 3166 code like PT')
    .nullish(),
  /** BCP 47 tag. */
  language: text(35).nullish(),
  /** Marketing by email: yes, no, or never asked. */
  emailConsent: z.boolean().nullish(),
  smsConsent: z.boolean().nullish(),
})
export type CustomerData = z.infer<typeof customerSchema>

export const orderLineSchema = z.object({
  productId: id,
  title: text(300).min(1),
  collection: text(200).nullish(),
  quantity: z.int().min(1).max(100_000),
  unitPriceMinor: amountMinor,
})

/** An order as events carry it: a whole snapshot, with all its lines. */
export const orderSchema = z.object({
  id,
  number: text(60).min(1),
  customerId: id,
  currency,
  totalMinor: amountMinor,
  shippingCountry: z
    .string()
    .regex(/^[A-Z]{2}$/, 'must be an ISO 3166 code like PT')
    .nullish(),
  paymentMethod: text(60).nullish(),
  trackingUrl: z.url({ protocol: /^https$/ }).nullish(),
  lines: z.array(orderLineSchema).min(1).max(500),
})
export type OrderData = z.infer<typeof orderSchema>

/** The states an order can be in; each follows from the newest event about it. */
export const ORDER_STATUSES = {
  placed: 'placed',
  paid: 'paid',
  fulfilled: 'fulfilled',
  cancelled: 'cancelled',
  refunded: 'refunded',
  payment_failed: 'payment failed',
} as const
export type OrderStatus = keyof typeof ORDER_STATUSES
