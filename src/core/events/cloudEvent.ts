import { z } from 'zod'
import { customerSchema, orderSchema, timestamp } from './entities.ts'
import { EVENT_TYPE_NAMES, isOrderEvent } from './eventTypes.ts'

const attribute = z.string().min(1).max(500)

const orderData = z.object({ order: orderSchema, customer: customerSchema.optional() })
const customerData = z.object({ customer: customerSchema })

/** The attributes of CloudEvents 1.0 that are required here, and those that are used when given. */
const envelope = z.looseObject({
  specversion: z.literal('1.0'),
  id: attribute,
  source: attribute,
  type: z.enum(EVENT_TYPE_NAMES),
  time: timestamp.optional(),
  subject: attribute.optional(),
})

const EXTENSION_NAME = /^[a-z0-9]+$/

/**
 * One event as it may enter Yomble: a CloudEvents 1.0 event (section 2.1: required attributes, names
 * of lower-case letters and digits) whose `data` holds the entity it is about.
 */
export type CloudEvent = z.infer<typeof envelope> & {
  data: z.infer<typeof orderData> | z.infer<typeof customerData>
}

/** One thing wrong with an event: where, and what to do. */
export interface EventProblem {
  path: string
  message: string
}

/** Checks one event and says either what it is or everything that is wrong with it. */
export function readCloudEvent(
  input: unknown,
): { ok: true; event: CloudEvent } | { ok: false; problems: EventProblem[] } {
  const head = envelope.safeParse(input)
  if (!head.success) return { ok: false, problems: problemsOf(head.error) }
  const badName = Object.keys(head.data).find((name) => !EXTENSION_NAME.test(name))
  if (badName !== undefined) {
    const message = 'attribute names may hold only lower-case letters and digits'
    return { ok: false, problems: [{ path: badName, message }] }
  }
  const body = (isOrderEvent(head.data.type) ? orderData : customerData).safeParse(
    head.data['data'],
  )
  if (!body.success) return { ok: false, problems: problemsOf(body.error, 'data') }
  const mismatch = customerMismatch(body.data)
  if (mismatch) return { ok: false, problems: [mismatch] }
  return { ok: true, event: { ...head.data, data: body.data } }
}

function customerMismatch(data: z.infer<typeof orderData> | z.infer<typeof customerData>) {
  if (!('order' in data) || !data.customer || data.customer.id === data.order.customerId)
    return null
  return { path: 'data.customer.id', message: 'must be the same as data.order.customerId' }
}

function problemsOf(error: z.ZodError, prefix = ''): EventProblem[] {
  return error.issues.map((issue) => ({
    path: [prefix, ...issue.path].filter((part) => part !== '').join('.') || '(the event itself)',
    message: issue.message,
  }))
}
