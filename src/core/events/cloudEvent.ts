import { z } from 'zod'
import {
  cartSchema,
  consentSchema,
  customerSchema,
  messageEventSchema,
  ODD_PROBLEM,
  orderSchema,
  orderStatus,
  productViewSchema,
  reviewSchema,
  subscriptionSchema,
  subscriptionStatus,
  timestamp,
} from './entities.ts'
import { hasOddCharacters } from '../shared/plainText.ts'
import { EVENT_TYPES, entityOf, type EntityKind, type EventType } from './eventTypes.ts'

const attribute = z
  .string()
  .min(1)
  .max(500)
  .refine((value) => !hasOddCharacters(value), ODD_PROBLEM)
const customer = customerSchema.optional()

/** What `data` holds, by what the event is about; a customer may come along with everything. */
export const DATA = {
  order: z.object({
    order: orderSchema,
    customer,
    /** For `order.status_changed`. */
    from: orderStatus.nullish(),
    to: orderStatus.nullish(),
  }),
  basket: z.object({ basket: cartSchema, customer }),
  checkout: z.object({ checkout: cartSchema, customer }),
  subscription: z.object({
    subscription: subscriptionSchema,
    customer,
    /** For `subscription.status_changed`; the new status is the subscription's own. */
    from: subscriptionStatus.nullish(),
  }),
  review: z.object({ review: reviewSchema, customer }),
  product: z.object({ product: productViewSchema, customer }),
  customer: z.object({ customer: customerSchema }),
  consent: z.object({ consent: consentSchema, customer }),
  message: z.object({ message: messageEventSchema, customer }),
} as const satisfies Record<EntityKind, z.ZodType>

export type EventData = z.infer<(typeof DATA)[EntityKind]>

/** The attributes of CloudEvents 1.0 that are required here, and those that are used when given. */
export const envelope = z.looseObject({
  specversion: z.literal('1.0'),
  id: attribute,
  source: attribute,
  type: z.enum(EVENT_TYPES),
  time: timestamp.optional(),
  subject: attribute.optional(),
})

const EXTENSION_NAME = /^[a-z0-9]+$/

/**
 * One event as it may enter Yomble: a CloudEvents 1.0 event (section 2.1: required attributes, names
 * of lower-case letters and digits) whose `data` holds the entity it is about.
 */
export type CloudEvent = z.infer<typeof envelope> & { data: EventData }

/** One thing wrong with an event: where, and what to do. */
export interface EventProblem {
  path: string
  message: string
}

/** Checks one event and says either what it is, and what of it has no meaning here, or what is wrong with it. */
export function readCloudEvent(
  input: unknown,
): { ok: true; event: CloudEvent; ignored: string[] } | { ok: false; problems: EventProblem[] } {
  const head = envelope.safeParse(input)
  if (!head.success) return { ok: false, problems: problemsOf(head.error) }
  const badName = Object.keys(head.data).find((name) => !EXTENSION_NAME.test(name))
  if (badName !== undefined) {
    const message = 'attribute names may hold only lower-case letters and digits'
    return { ok: false, problems: [{ path: badName, message }] }
  }
  const body = DATA[entityOf(head.data.type)].safeParse(head.data['data'])
  if (!body.success) return { ok: false, problems: problemsOf(body.error, 'data') }
  const mismatch = mismatchIn(head.data.type, body.data)
  if (mismatch) return { ok: false, problems: [mismatch] }
  const ignored = leftOut(head.data['data'], body.data, 'data').slice(0, MOST_PROBLEMS)
  return { ok: true, event: { ...head.data, data: body.data }, ignored }
}

/** The customer an event belongs to. */
export function customerIdOf(data: EventData): string {
  if ('order' in data) return data.order.customerId
  if ('basket' in data) return data.basket.customerId
  if ('checkout' in data) return data.checkout.customerId
  if ('subscription' in data) return data.subscription.customerId
  if ('review' in data) return data.review.customerId
  if ('product' in data) return data.product.customerId
  if ('consent' in data) return data.consent.customerId
  if ('message' in data) return data.message.customerId
  return data.customer.id
}

/** The id of the order, basket, checkout, subscription or review an event is about, or null. */
export function subjectIdOf(data: EventData): string | null {
  if ('order' in data) return data.order.id
  if ('basket' in data) return data.basket.id
  if ('checkout' in data) return data.checkout.id
  if ('subscription' in data) return data.subscription.id
  return 'review' in data ? data.review.id : null
}

/** From what status to what, for events that change one; null for all others. */
export function statusChangeOf(
  type: EventType,
  data: EventData,
): { from: string | null; to: string } | null {
  if (type === 'order.status_changed' && 'order' in data && data.to) {
    return { from: data.from ?? null, to: data.to }
  }
  if (type === 'subscription.status_changed' && 'subscription' in data) {
    return { from: data.from ?? null, to: data.subscription.status }
  }
  return null
}

function mismatchIn(type: EventType, data: EventData): EventProblem | null {
  if (type === 'order.status_changed' && !('to' in data && data.to)) {
    return { path: 'data.to', message: 'must say the status it has changed to' }
  }
  if (!('customer' in data) || !data.customer || data.customer.id === customerIdOf(data)) {
    return null
  }
  return { path: 'data.customer.id', message: `must be the customer of the ${entityOf(type)}` }
}

/** The paths of what came in and was not taken: names that are not known, most often slips. */
function leftOut(given: unknown, taken: unknown, path: string): string[] {
  if (Array.isArray(given) && Array.isArray(taken)) {
    return given.flatMap((part, index) => leftOut(part, taken[index], `${path}.${index}`))
  }
  if (!isObject(given) || !isObject(taken)) return []
  return Object.entries(given).flatMap(([name, part]) =>
    name in taken ? leftOut(part, taken[name], `${path}.${name}`) : [`${path}.${name}`],
  )
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Whoever made thousands of faults made a few kinds of them. */
const MOST_PROBLEMS = 20

function problemsOf(error: z.ZodError, prefix = ''): EventProblem[] {
  return error.issues.slice(0, MOST_PROBLEMS).map((issue) => ({
    path: [prefix, ...issue.path].filter((part) => part !== '').join('.') || '(the event itself)',
    message: issue.message,
  }))
}
