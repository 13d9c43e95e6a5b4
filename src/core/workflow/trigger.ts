import { z } from 'zod'
import { conditionSchema } from '../conditions/condition.ts'
import { findField, type Field } from '../conditions/fields.ts'
import { EVENT_TYPES, entityOf, subjectKindOf, type SubjectKind } from '../events/eventTypes.ts'
import { dateFieldSchema, timeOfDaySchema } from './steps.ts'

const status = z.array(z.string().max(40)).max(20).optional()

const eventTriggerSchema = z.strictObject({
  kind: z.literal('event'),
  event: z.enum(EVENT_TYPES),
  /** For changes of status: only from or to one of these; left out: any. */
  from: status,
  to: status,
  /** One run for the order, or one for each line that the filter holds for. */
  per: z.enum(['order', 'line']).optional(),
  filter: conditionSchema.optional(),
})

const dateTriggerSchema = z.strictObject({
  kind: z.literal('date'),
  field: dateFieldSchema,
  direction: z.enum(['before', 'after']),
  days: z.int().min(0).max(730),
  /** A local time in the zone. */
  at: timeOfDaySchema,
  zone: z.enum(['shop', 'recipient']),
  /** Before a date: one that becomes known, or is moved, when its moment has passed starts at once. */
  ifNearer: z.literal('startAtOnce').optional(),
  filter: conditionSchema.optional(),
})

const handTriggerSchema = z.strictObject({
  kind: z.literal('hand'),
  /** What people are chosen by. */
  subject: z.enum(['order', 'customer']),
  filter: conditionSchema.optional(),
})

/** The event or date that can start a run; `hand`: only people put in by hand. */
export const triggerSchema = z
  .discriminatedUnion('kind', [eventTriggerSchema, dateTriggerSchema, handTriggerSchema])
  .meta({ id: 'Trigger' })
export type Trigger = z.infer<typeof triggerSchema>
export type EventTrigger = z.infer<typeof eventTriggerSchema>
export type DateTrigger = z.infer<typeof dateTriggerSchema>

/** What the runs of a trigger are about. */
export function subjectOf(trigger: Trigger): SubjectKind {
  switch (trigger.kind) {
    case 'event':
      return subjectKindOf(trigger.event)
    case 'hand':
      return trigger.subject
    case 'date': {
      const about = findField(trigger.field)?.about ?? 'customer'
      return about === 'line' ? 'order' : about
    }
  }
}

/** True when the runs of a trigger are about one line of an order each. */
export function isPerLine(trigger: Trigger): boolean {
  if (trigger.kind === 'event') return trigger.per === 'line' && entityOf(trigger.event) === 'order'
  return trigger.kind === 'date' && findField(trigger.field)?.about === 'line'
}

/** What is told of a product where no line of an order stands behind it. */
const TOLD_OF_PRODUCTS: Readonly<Record<string, readonly string[]>> = {
  subscription: ['line.product', 'line.title', 'line.category'],
  review: ['line.product', 'line.title', 'line.category'],
  customer: ['line.product', 'line.title', 'line.category', 'line.tags'],
}

/**
 * True when a field can be known in runs of the trigger: of what a subscription or a review is about,
 * nobody is ever told a quantity, a price or a booked date.
 */
export function canKnow(trigger: Trigger, { about, key }: Pick<Field, 'about' | 'key'>): boolean {
  if (!canFill(trigger, about)) return false
  if (about !== 'line' || isPerLine(trigger)) return true
  return TOLD_OF_PRODUCTS[subjectOf(trigger)]?.includes(key) ?? true
}

/** True when a condition on the field of an entity can have a value in runs of the trigger. */
export function canFill(trigger: Trigger, about: string): boolean {
  if (about === 'customer') return true
  if (about !== 'line') return about === subjectOf(trigger)
  if (isPerLine(trigger)) return true
  // Views, reviews and subscriptions are about one product.
  return (
    (trigger.kind === 'event' && trigger.event === 'product.viewed') ||
    ['review', 'subscription'].includes(subjectOf(trigger))
  )
}
