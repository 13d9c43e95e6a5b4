import { z } from 'zod'
import { CUSTOMER_CHANNELS } from '../channels/catalogue.ts'
import { cleanText, hasOddCharacters } from '../shared/plainText.ts'
import { isZone, parseInstant } from '../shared/time.ts'
import { readYearDay } from '../shared/yearDay.ts'

/** Said of ids and addresses that cannot be kept as they are. */
export const ODD_PROBLEM = 'must not hold control characters or halves of characters'

const isPlain = (value: string): boolean => !hasOddCharacters(value)

/** Names a thing for good: changed in any way it would name another. */
const id = z.string().trim().min(1).max(200).refine(isPlain, ODD_PROBLEM)
const currency = z.string().regex(/^[A-Z]{3}$/, 'must be an ISO 4217 code like EUR')
const amountMinor = z.int().min(-1e13).max(1e13)
/** What people have written. */
const text = (max: number) => z.string().trim().max(max).transform(cleanText)
/** The same, where something has to be there. */
const name = (max: number) => z.string().trim().min(1).max(max).transform(cleanText)
const tags = z.array(name(60)).max(100)
const link = z
  .url({ protocol: /^https$/ })
  .max(2000)
  .refine(isPlain, ODD_PROBLEM)
const country = z.string().regex(/^[A-Z]{2}$/, 'must be an ISO 3166 code like PT')

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
  .refine(isPlain, ODD_PROBLEM)

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
  country: country.nullish(),
  /** BCP 47 tag. */
  language: text(35).nullish(),
  /** With or without the year, which is not kept: `1988-04-17`, `04-17`, `--04-17`. */
  birthday: z
    .string()
    .refine((day) => readYearDay(day) !== null, 'must be a day like 1988-04-17 or 04-17')
    .nullish(),
  /** Marketing by email: yes, no, or never asked. */
  emailConsent: z.boolean().nullish(),
  smsConsent: z.boolean().nullish(),
  /** The shop's own tags. Left out: unchanged. */
  tags: tags.nullish(),
})
export type CustomerData = z.infer<typeof customerSchema>

export const orderLineSchema = z.object({
  productId: id,
  title: name(300),
  category: text(200).nullish(),
  tags: tags.nullish(),
  quantity: z.int().min(1).max(100_000),
  unitPriceMinor: amountMinor,
  /** When what was booked begins, for classes and the like. */
  startsAt: timestamp.nullish(),
  /** Which kind of it: "2 kg", "left-handed". */
  variant: text(200).nullish(),
  /** Where it can be looked at, and what it looks like. */
  url: link.nullish(),
  imageUrl: link.nullish(),
})
export type OrderLineData = z.infer<typeof orderLineSchema>

/** The states an order can be in; each follows from the newest event about it. */
export const ORDER_STATUSES = {
  placed: 'placed',
  paid: 'paid',
  preparing: 'being prepared',
  problem: 'stuck on a problem',
  fulfilled: 'fulfilled',
  delivered: 'delivered',
  closed: 'closed',
  cancelled: 'cancelled',
  refunded: 'refunded',
  payment_due: 'payment due',
} as const
export type OrderStatus = keyof typeof ORDER_STATUSES
export const orderStatus = z.enum(Object.keys(ORDER_STATUSES) as [OrderStatus, ...OrderStatus[]])

/** A postal address, as somebody would write it on a parcel. */
const addressSchema = z.object({
  name: text(200).nullish(),
  company: text(200).nullish(),
  street: text(300).nullish(),
  postcode: text(20).nullish(),
  city: text(200).nullish(),
  country: country.nullish(),
})

/** An order as events carry it: a whole snapshot, with all its lines. */
export const orderSchema = z.object({
  id,
  number: name(60),
  customerId: id,
  currency,
  totalMinor: amountMinor,
  shippingCountry: country.nullish(),
  /** ISO 3166-2 subdivision without the country: "CA" in "US-CA". */
  shippingRegion: z
    .string()
    .regex(/^[A-Z0-9]{1,3}$/, 'must be an ISO 3166-2 part like CA')
    .nullish(),
  paymentMethod: text(60).nullish(),
  trackingUrl: link.nullish(),
  /** The codes that were redeemed with it. */
  couponCodes: z.array(name(60)).max(20).nullish(),
  /** What the total is made of, as far as the shop says. */
  amounts: z
    .object({
      itemsMinor: amountMinor.nullish(),
      shippingMinor: amountMinor.nullish(),
      /** What was taken off, as it is: not negative. */
      discountMinor: amountMinor.nullish(),
      taxMinor: amountMinor.nullish(),
    })
    .nullish(),
  shippingAddress: addressSchema.nullish(),
  billingAddress: addressSchema.nullish(),
  lines: z.array(orderLineSchema).min(1).max(500),
})
export type OrderData = z.infer<typeof orderSchema>

/** A basket or checkout as events carry it. */
export const cartSchema = z.object({
  id,
  customerId: id,
  currency,
  totalMinor: amountMinor,
  /** Where the customer can go on with it. */
  url: link.nullish(),
  lines: z.array(orderLineSchema).min(1).max(500),
})
export type CartData = z.infer<typeof cartSchema>

/** The states a subscription can be in. */
export const SUBSCRIPTION_STATUSES = {
  trial: 'on trial',
  running: 'running',
  paused: 'paused',
  cancelled: 'cancelled',
  ended: 'ended',
} as const
export type SubscriptionStatus = keyof typeof SUBSCRIPTION_STATUSES
export const subscriptionStatus = z.enum(
  Object.keys(SUBSCRIPTION_STATUSES) as [SubscriptionStatus, ...SubscriptionStatus[]],
)

/** A subscription as events carry it: a whole snapshot. */
export const subscriptionSchema = z.object({
  id,
  customerId: id,
  status: subscriptionStatus,
  productId: id,
  title: name(300),
  category: text(200).nullish(),
  amountMinor,
  currency,
  /** How often it is paid, in the shop's words: "month", "quarter", "year". */
  interval: name(60),
  /** True when the payment is collected without the customer doing anything. */
  automatic: z.boolean().nullish(),
  paymentMethod: text(60).nullish(),
  startedAt: timestamp.nullish(),
  nextPaymentAt: timestamp.nullish(),
  endsAt: timestamp.nullish(),
  trialEndsAt: timestamp.nullish(),
  /** Where the customer can manage it. */
  url: link.nullish(),
})
export type SubscriptionData = z.infer<typeof subscriptionSchema>

/** A review as events carry it. */
export const reviewSchema = z.object({
  id,
  customerId: id,
  orderId: id.nullish(),
  productId: id.nullish(),
  title: text(300).nullish(),
  category: text(200).nullish(),
  stars: z.int().min(1).max(5),
  text: text(5000).nullish(),
})
export type ReviewData = z.infer<typeof reviewSchema>

/** A look at a product's page. */
export const productViewSchema = z.object({
  customerId: id,
  productId: id,
  title: name(300),
  category: text(200).nullish(),
  tags: tags.nullish(),
  /** Where it can be looked at and bought. */
  url: link.nullish(),
  imageUrl: link.nullish(),
  /** Whether it can be bought now. Left out: unchanged. */
  inStock: z.boolean().nullish(),
})

/**
 * A yes or no to marketing, by channel. With `how` it is the person's own word ("box at the checkout",
 * "newsletter form"); a yes without it is what the shop has on record.
 */
export const consentSchema = z.object({
  customerId: id,
  channel: z.enum(CUSTOMER_CHANNELS),
  given: z.boolean(),
  how: name(100).nullish(),
})

const messageId = z.string().trim().max(500).refine(isPlain, ODD_PROBLEM)

/** What became of a message of ours, told by the Message-ID or gateway id it went out under. */
export const messageEventSchema = z.object({
  customerId: id,
  id: messageId.nullish(),
  /** The address it went to, where `id` does not tell. */
  address: emailAddress.nullish(),
  /** For `message.bounced`: the address does not exist (RFC 3463 class 5), not just a full mailbox. */
  permanent: z.boolean().nullish(),
  /** For `message.clicked`: where the link led. */
  url: z.url().max(2000).refine(isPlain, ODD_PROBLEM).nullish(),
})
