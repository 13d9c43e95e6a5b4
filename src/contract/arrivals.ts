import { z } from 'zod'
import { EVENT_TYPES } from '../core/events/eventTypes.ts'

const problem = z.object({ path: z.string(), message: z.string() })

export const arrivalsQuery = z.object({
  show: z.enum(['taken', 'refused']).default('taken'),
  type: z.enum(EVENT_TYPES).optional(),
  /** The key of the last row of the page before. */
  before: z.coerce.number().int().optional(),
})

/** An event that came: what it told, from where, and what it started; or why it was refused. */
export const arrival = z.object({
  key: z.int(),
  receivedAt: z.int(),
  /** The source it names, or the API key that sent what was refused. */
  from: z.string(),
  /** Null where what was refused names no type that is known. */
  type: z.string().nullable(),
  words: z.string(),
  customer: z.object({ id: z.string(), name: z.string() }).nullable(),
  /** How many workflows somebody entered by it. */
  started: z.int(),
  problems: z.array(problem),
  /** As it came. */
  event: z.unknown(),
})
export type Arrival = z.infer<typeof arrival>
export const arrivalsResponse = z.object({ rows: z.array(arrival), more: z.boolean() })

/** An event that somebody tries, or sends by hand. */
export const testEventBody = z.object({ event: z.unknown() })
export const testEventAnswer = z.object({
  problems: z.array(problem),
  /** Paths of what was sent and has no meaning here. */
  ignored: z.array(z.string()),
})
export const sentEventAnswer = z.object({ status: z.enum(['accepted', 'duplicate', 'erased']) })
