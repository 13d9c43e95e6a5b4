import { z } from 'zod'
import { conditionSchema } from '../core/conditions/condition.ts'
import { peopleConditionSchema } from '../core/conditions/ofPeople.ts'
import { orderStatus } from '../core/events/entities.ts'
import { CUSTOMER_CHANNELS } from '../core/channels/catalogue.ts'

/** By what people are listed; those with the latest or largest first but for names. */
export const peopleSort = z.enum(['lastOrder', 'spent', 'orders', 'name', 'since'])
export type PeopleSort = z.infer<typeof peopleSort>

/** Which people: by name, address, phone or order number, and by a condition. */
const which = {
  search: z.string().trim().max(100).default(''),
  condition: peopleConditionSchema.nullable().default(null),
}

export const peopleQuery = z.object({
  ...which,
  sort: peopleSort.default('lastOrder'),
  /** Where the next page begins, as the page before has said. */
  after: z.string().max(500).nullable().default(null),
})
export type PeopleQuery = z.input<typeof peopleQuery>

export const personRow = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string().nullable(),
  phone: z.string().nullable(),
  country: z.string().nullable(),
  mayEmail: z.boolean().nullable(),
  mayText: z.boolean().nullable(),
  createdAt: z.int().nullable(),
  lastOrderAt: z.int().nullable(),
  orders: z.int(),
  /** What their orders came to in the shop's currency; cancelled and refunded ones are left out. */
  spentMinor: z.int(),
  tags: z.array(z.string()),
  lists: z.array(z.string()),
})
export type PersonRow = z.infer<typeof personRow>

export const peopleResponse = z.object({ people: z.array(personRow), after: z.string().nullable() })

export const peopleCountBody = z.object(which)
export const peopleCountResponse = z.object({
  /** How many people the shop has. */
  of: z.int(),
  /** How many of them were looked at, drawn by lot where it was not all. */
  looked: z.int(),
  /** For how many of those it holds. */
  held: z.int(),
})
export type PeopleCount = z.infer<typeof peopleCountResponse>

export const segment = z.object({
  id: z.string(),
  name: z.string(),
  condition: conditionSchema,
  person: z.string(),
  changedAt: z.int(),
})
export type Segment = z.infer<typeof segment>
export const segmentBody = z.object({
  name: z.string().trim().min(1, 'Give it a name').max(80),
  condition: peopleConditionSchema,
})

const conditionText = z
  .string()
  .max(8000)
  .transform((text, context) => {
    try {
      return peopleConditionSchema.parse(JSON.parse(text))
    } catch {
      context.addIssue({ code: 'custom', message: 'must be a condition on people, as JSON' })
      return z.NEVER
    }
  })

/** Whom to write into a file, and how. */
export const peopleExportQuery = z.object({
  search: which.search,
  sort: peopleSort.default('lastOrder'),
  condition: conditionText.optional(),
  /** The id of a segment, whose condition is meant instead. */
  segment: z.string().max(100).optional(),
  format: z.enum(['csv', 'jsonl']).default('csv'),
})

/** Which kinds of lines a person's time line shows. */
export const timelineShow = z.enum(['all', 'events', 'messages', 'decisions', 'acts'])
export type TimelineShow = z.infer<typeof timelineShow>

export const timelineLine = z.object({
  /** What it is: an event of the shop, a decision, something done by hand. */
  what: z.enum(['event', 'decision', 'act']),
  /** Unlike those of other lines of the same person. */
  key: z.string(),
  at: z.int(),
  kind: z.string(),
  words: z.string(),
  workflow: z.object({ id: z.string(), name: z.string() }).nullable(),
  runId: z.int().nullable(),
  mailId: z.int().nullable(),
})
export type TimelineLine = z.infer<typeof timelineLine>
export const timelineQuery = z.object({
  show: timelineShow.default('all'),
  after: z.string().max(200).optional(),
})
export const timelineResponse = z.object({
  lines: z.array(timelineLine),
  after: z.string().nullable(),
})

const consent = z.object({
  channel: z.enum(CUSTOMER_CHANNELS),
  address: z.string().nullable(),
  may: z.boolean().nullable(),
  /** What the shop's data say. */
  recorded: z.boolean().nullable(),
  /** The person's own last word, which outweighs it. */
  said: z.object({ given: z.boolean(), at: z.int(), how: z.string() }).nullable(),
  /** Since when mail to the address has come back. */
  deadSince: z.int().nullable(),
})
export type ConsentState = z.infer<typeof consent>

export const personResponse = personRow.extend({
  language: z.string().nullable(),
  birthday: z.string().nullable(),
  zone: z.object({ name: z.string(), from: z.enum(['person', 'country', 'shop']) }),
  quietUntil: z.int().nullable(),
  properties: z.record(z.string(), z.string()),
  /** Since when they are on a list or have a tag, and by which workflow or person, as far as that is known. */
  labelled: z.array(
    z.object({ kind: z.enum(['list', 'tag']), name: z.string(), at: z.int(), by: z.string() }),
  ),
  consents: z.array(consent),
  marketing: z.object({ messages: z.int(), lastAt: z.int().nullable() }),
  runs: z.array(
    z.object({
      id: z.int(),
      workflow: z.object({ id: z.string(), name: z.string() }),
      enteredAt: z.int(),
      /** Where they stand. */
      step: z.string().nullable(),
      dueAt: z.int().nullable(),
      /** They stand in a wait that somebody may end. */
      waits: z.boolean(),
      about: z.string().nullable(),
    }),
  ),
  /** Their orders, the last ones first. */
  lastOrders: z.array(
    z.object({
      number: z.string(),
      status: orderStatus,
      totalMinor: z.int(),
      currency: z.string(),
      at: z.int(),
    }),
  ),
  /** Segments that hold for them. */
  segments: z.array(z.object({ id: z.string(), name: z.string() })),
})
export type PersonResponse = z.infer<typeof personResponse>

export const labelQuery = z.object({ kind: z.enum(['list', 'tag']) })
export const labelsResponse = z.array(z.object({ name: z.string(), people: z.int() }))
export const labelBody = z.object({
  kind: z.enum(['list', 'tag']),
  name: z.string().trim().min(1, 'Give it a name').max(60),
  change: z.enum(['add', 'remove']),
  /** Ids of people, or addresses; or all that a search and a condition are about. */
  people: z.union([
    z.array(z.string().trim().min(1).max(254)).min(1).max(5000),
    z.strictObject(which),
  ]),
})
export const labelAnswer = z.object({
  changed: z.int(),
  /** What nobody is known by. */
  unknown: z.array(z.string()),
})

/** Whose consent is asked for: an address, or a number as E.164 has it. */
export const reachableQuery = z.object({
  channel: z.enum(['email', 'sms']).default('email'),
  address: z.string().trim().min(3).max(254),
})
export const reachableResponse = z.object({
  mayMarket: z.boolean(),
  /** Why not, as codes. */
  reasons: z.array(z.enum(['unknown', 'deadAddress', 'saidNo', 'neverAsked', 'quiet'])),
  deadSince: z.int().nullable(),
  people: z.array(
    z.object({
      customerId: z.string(),
      may: z.boolean().nullable(),
      /** Their own last word, where they said one. */
      saidAt: z.int().nullable(),
      saidHow: z.string().nullable(),
      quietUntil: z.int().nullable(),
    }),
  ),
})
export type Reachable = z.infer<typeof reachableResponse>
