import { z } from 'zod'
import { keySchema } from '../shared/key.ts'
import { isZone } from '../shared/time.ts'
import { timestamp } from '../events/entities.ts'

/** What can happen while somebody is on their way through a workflow. */
export const HAPPENINGS = [
  'paid', 'fulfilled', 'delivered', 'cancelled', 'refunded', 'paymentFailed', 'ordered', 'review', 'opened', 'clicked',
  'unsubscribed', 'saysYes', 'saysNo', 'views', 'fillsBasket', 'startsCheckout', 'subscribes', 'renewed', 'renewalFailed',
  'subscriptionPaused', 'subscriptionCancelled', 'subscriptionEnded',
] as const // prettier-ignore
export type HappeningKind = (typeof HAPPENINGS)[number]

const DAYS = z.number().min(0).max(3660)

/** Something that happens at a moment of a rehearsal. */
export const happeningSchema = z.strictObject({
  key: z.string().min(1).max(40),
  what: z.enum(HAPPENINGS),
  /** So many minutes after the beginning; a part of one where seconds count. */
  afterMinutes: z
    .number()
    .min(0)
    .max(3660 * 24 * 60),
  /** Of a review. */
  stars: z.int().min(1).max(5).optional(),
})
export type Happening = z.infer<typeof happeningSchema>

/** What is ordered, as an order has it; written down as it is, so that it can be a schema in JSON. */
const lineSchema = z.strictObject({
  productId: z.string().min(1).max(200),
  title: z.string().min(1).max(300),
  category: z.string().max(200).nullable(),
  quantity: z.int().min(1).max(100_000),
  unitPriceMinor: z.int().min(0).max(1e12),
})

/** Somebody made up, what they order or the like, and what happens to them afterwards. */
export const subjectSchema = z.strictObject({
  /** When it begins: their order is placed, their checkout started. */
  at: timestamp,
  customer: z.strictObject({
    firstName: z.string().max(200),
    /** ISO 3166-1 alpha-2. */
    country: z.string().regex(/^[A-Z]{2}$/).nullable(),
    /** IANA zone; null for what the country says, or the shop. */
    zone: z.string().refine(isZone, 'must be an IANA zone like Europe/Lisbon').nullable(),
    emailConsent: z.boolean().nullable(),
    smsConsent: z.boolean().nullable(),
    /** Left out: they have one. */
    hasEmail: z.boolean().optional(),
    hasPhone: z.boolean(),
    tags: z.array(z.string().min(1).max(60)).max(100),
  }),
  /** What they ordered before, and how many days ago. */
  earlier: z.array(z.strictObject({ daysBefore: DAYS, lines: z.array(lineSchema).min(1).max(20) })).max(50),
  /** What is ordered, left behind, subscribed to, reviewed. */
  lines: z.array(lineSchema).min(1).max(50),
  /** Of a review that it begins with. */
  stars: z.int().min(1).max(5),
  /** The date that the workflow goes by (a payment, an end, what is booked), in days after the beginning. */
  dateInDays: DAYS,
  between: z.array(happeningSchema).max(100),
  /** Which arm they have in each experiment, by its key; what is left out is drawn. */
  arms: z.record(keySchema, keySchema).optional(),
}) // prettier-ignore
export type Subject = z.infer<typeof subjectSchema>
