import { z } from 'zod'
import {
  isMailChannel,
  isMessageChannel,
  reachesCustomers,
  type CustomerChannel,
  type MailChannel,
  type MessageChannel,
} from '../channels/catalogue.ts'
import { conditionSchema, type Condition } from '../conditions/condition.ts'
import { DATE_FIELDS } from '../conditions/fields.ts'
import { EVENT_TYPES, type EventType } from '../events/eventTypes.ts'
import { blocksSchema } from '../blocks/blocks.ts'
import { languageTag, translationsSchema } from '../blocks/translation.ts'
import { trackingSchema } from '../blocks/tracking.ts'
import { isDuration, type Duration } from '../shared/duration.ts'
import { keySchema } from '../shared/key.ts'
import { isCalendarDate, isTimeOfDay } from '../shared/localTime.ts'
import { testPlanSchema, type TestPlan } from './testPlan.ts'

/** May be empty while it is being typed; the go-live check asks for what has to be there. */
export const nameSchema = z.string().max(120)

/** How many paths a split can have, besides that of everyone else; and arms an experiment. */
export const MOST_PATHS = 24
export const MOST_ARMS = 8

const address = z.string().max(254)
export const durationSchema = z
  .string()
  .refine(isDuration, 'must be a duration like PT20M, P7D or P1M')
export const timeOfDaySchema = z.string().refine(isTimeOfDay, 'must be a time like 09:00')
const weekdays = z.array(z.int().min(1).max(7)).min(1).max(7)

const dateFieldKeys = new Set(DATE_FIELDS.map(({ key }) => key))
/** A date that a trigger or a wait can go by. */
export const dateFieldSchema = z
  .string()
  .refine((key) => dateFieldKeys.has(key), 'must be a date, like subscription.nextPaymentAt')

/** How far before or after a date. */
export const dateOffsetSchema = z.strictObject({
  direction: z.enum(['before', 'after']),
  duration: durationSchema,
})

/** What a message is for. Only marketing asks for consent. */
export const purposeSchema = z.enum(['transactional', 'marketing'])

const waitSchema = z.strictObject({
  key: keySchema,
  kind: z.literal('wait'),
  for: durationSchema,
  /** A local time of the recipient's to go on at: the first permitted one once the time has passed. */
  at: timeOfDaySchema.optional(),
  /** ISO weekdays to go on at; left out: any. Only together with `at`. */
  weekdays: weekdays.optional(),
  /** Count calendar days: on that very day at `at`, and if that is past, the next permitted day. */
  onDay: z.boolean().optional(),
})

const untilSchema = z.strictObject({
  key: keySchema,
  kind: z.literal('until'),
  until: z.discriminatedUnion('kind', [
    z.strictObject({
      kind: z.literal('field'),
      field: dateFieldSchema,
      offset: dateOffsetSchema,
      /** At this local time of the recipient's on that day; left out: at the date's own time. */
      at: timeOfDaySchema.optional(),
    }),
    /** A date of the shop's calendar. */
    z.strictObject({
      kind: z.literal('fixed'),
      date: z.string().refine(isCalendarDate, 'must be a date like 2026-05-09'),
      at: timeOfDaySchema,
    }),
  ]),
  /** When the moment is past already, or the date is not known. */
  ifPast: z.enum(['goOn', 'skipNext', 'leave']),
})

const endSchema = z.strictObject({ key: keySchema, kind: z.literal('end') })

const messageParts = {
  key: keySchema,
  name: nameSchema,
  onlyIf: conditionSchema.optional(),
}

const groups = z.array(keySchema).min(1).max(10).optional()

/** In whose language dates and amounts are written; left out: the shop's. */
const language = z.literal('recipient').optional()

/** Further languages that a message is written in. Each reads the one that is theirs, else its own. */
const languages = {
  /** The language that its own texts are in; left out: the shop's. */
  writtenIn: languageTag.optional(),
  translations: translationsSchema.optional(),
}

/** What happens when another marketing message left too short a while ago. */
const onGap = z.enum(['hold', 'skip']).optional()

/** A file that goes with a message: its bytes are kept beside the workflow. */
const documentSchema = z.strictObject({
  id: z.string().min(1).max(60),
  name: z.string().min(1).max(200),
  bytes: z.int().min(0),
})
export type DocumentRef = z.infer<typeof documentSchema>

const emailSchema = z.strictObject({
  ...messageParts,
  kind: z.literal('email'),
  purpose: purposeSchema,
  /**
   * `plain`: text only, as a person writes. `letter`: the same text also as simple HTML. `designed`:
   * made of blocks, in the shop's brand.
   */
  format: z.enum(['plain', 'letter', 'designed']),
  sender: z.strictObject({ name: nameSchema, address }),
  replyTo: address.optional(),
  /** Further addresses that get a copy at the same time. */
  copies: z.array(address).max(10).optional(),
  /** Customers see who gets a copy; left out: they do not. */
  copiesShown: z.boolean().optional(),
  /** Groups of the shop's staff that get a copy too. */
  groups,
  subject: z.string().max(300),
  previewText: z.string().max(300),
  body: z.string().max(50_000),
  /** What a designed email is made of. */
  blocks: blocksSchema.optional(),
  /** The kept design it was made of, as it was then: its changes can be taken over. */
  design: z.strictObject({ id: z.string().max(40), revision: z.int().min(1) }).optional(),
  /** With the order as a PDF. */
  invoice: z.boolean().optional(),
  /** With files that are the same for everybody. */
  documents: z.array(documentSchema).min(1).max(5).optional(),
  /** What is followed of it; left out: everything but of plain ones. */
  tracking: trackingSchema.optional(),
  language,
  ...languages,
  onGap,
})

const smsSchema = z.strictObject({
  ...messageParts,
  kind: z.literal('sms'),
  purpose: purposeSchema,
  body: z.string().max(1600),
  /** Links stay as they are, and clicks are not known of. */
  longLinks: z.boolean().optional(),
  language,
  ...languages,
  onGap,
})

const noteSchema = z.strictObject({
  ...messageParts,
  kind: z.literal('note'),
  /** Addresses of the staff who get it, besides those of the groups. */
  to: z.array(address).max(20),
  groups,
  subject: z.string().max(300),
  body: z.string().max(20_000),
})

const moneySchema = z.strictObject({
  amountMinor: z.int().min(0),
  currency: z.string().regex(/^[A-Z]{3}$/),
})

const couponSchema = z.strictObject({
  key: keySchema,
  kind: z.literal('coupon'),
  name: nameSchema,
  /** Every # becomes a letter or digit, and everyone gets a code of their own; without one all share it. */
  pattern: z.string().min(1).max(40),
  discount: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('percent'), percent: z.number().min(0).max(100) }),
    z.strictObject({ kind: z.literal('amount'), amount: moneySchema }),
  ]),
  /** Counted from the moment of issue; left out: it never expires. */
  expiresAfter: durationSchema.optional(),
  /** The least that what counts has to come to. */
  minimum: moneySchema.optional(),
  /** Only what is of these categories counts. */
  categories: z.array(z.string().trim().min(1).max(200)).max(20).optional(),
  /** How often a code can be used; left out: once for one of their own, without limit for a shared one. */
  maxUses: z.int().min(1).max(1_000_000).optional(),
})

const markName = z.string().trim().max(60)
const addOrRemove = z.enum(['add', 'remove'])

const tagSchema = z.strictObject({
  key: keySchema,
  kind: z.literal('tag'),
  change: addOrRemove,
  tag: markName,
})
const listSchema = z.strictObject({
  key: keySchema,
  kind: z.literal('list'),
  change: addOrRemove,
  list: markName,
})
const propertySchema = z.strictObject({
  key: keySchema,
  kind: z.literal('property'),
  property: z.string().regex(/^([a-z][a-z0-9_-]{0,39})?$/, 'must be a name like favourite_hive'),
  value: z.string().max(500),
})
const hookSchema = z.strictObject({
  key: keySchema,
  kind: z.literal('hook'),
  name: nameSchema,
  url: z.string().max(2000),
})

const LEAVES = [
  waitSchema,
  untilSchema,
  endSchema,
  emailSchema,
  smsSchema,
  noteSchema,
  couponSchema,
  tagSchema,
  listSchema,
  propertySchema,
  hookSchema,
] as const

export type WaitStep = z.infer<typeof waitSchema>
export type UntilStep = z.infer<typeof untilSchema>
export type EmailStep = z.infer<typeof emailSchema>
export type SmsStep = z.infer<typeof smsSchema>
export type NoteStep = z.infer<typeof noteSchema>
export type CouponStep = z.infer<typeof couponSchema>
export type TagStep = z.infer<typeof tagSchema>
export type ListStep = z.infer<typeof listSchema>
export type PropertyStep = z.infer<typeof propertySchema>
export type HookStep = z.infer<typeof hookSchema>
type LeafStep = z.infer<(typeof LEAVES)[number]>
/** A message: something a person reads. */
export type MessageStep = Extract<LeafStep, { kind: MessageChannel }>
/** A message that is a mail. */
export type MailStep = Extract<LeafStep, { kind: MailChannel }>
/** A message that goes to the customer. */
export type CustomerMessageStep = Extract<LeafStep, { kind: CustomerChannel }>

/** People part by conditions, first match wins; everyone else takes `otherwise`. */
export interface SplitStep {
  key: string
  kind: 'split'
  branches: SplitBranch[]
  otherwise: Step[]
}
export interface SplitBranch {
  key: string
  name: string
  when: Condition
  steps: Step[]
}

/** People part by chance; the same person gets the same arm each time. */
export interface ExperimentStep {
  key: string
  kind: 'experiment'
  name: string
  /** What the arms are drawn by, together with the customer. Steps that share it share the lottery. */
  lottery: string
  /** What is to be found out, said before it begins. */
  plan?: TestPlan | undefined
  arms: Arm[]
}
export interface Arm {
  key: string
  name: string
  weight: number
  /** Gets none of the experiment's messages: its list stays empty. */
  holdout?: boolean | undefined
  steps: Step[]
}

/** Waits for an event up to a limit; two ways on, for those whom it came to and for the others. */
export interface WaitForStep {
  key: string
  kind: 'waitFor'
  event: EventType
  about: 'subject' | 'customer'
  where?: Condition | undefined
  limit: Duration
  came: Step[]
  otherwise: Step[]
}

/** A step that holds lists of steps, after which paths meet again. */
export type BranchingStep = SplitStep | ExperimentStep | WaitForStep
export type Step = LeafStep | BranchingStep
export type StepKind = Step['kind']

/** The steps of a list, with the lists inside them. */
export const stepsSchema: z.ZodType<Step[]> = z
  .lazy(() =>
    z
      .array(
        z.discriminatedUnion('kind', [
          ...LEAVES,
          z.strictObject({
            key: keySchema,
            kind: z.literal('split'),
            branches: z
              .array(
                z.strictObject({
                  key: keySchema,
                  name: nameSchema,
                  when: conditionSchema,
                  steps: stepsSchema,
                }),
              )
              .min(1)
              .max(MOST_PATHS),
            otherwise: stepsSchema,
          }),
          z.strictObject({
            key: keySchema,
            kind: z.literal('experiment'),
            name: nameSchema,
            lottery: z.string().min(1).max(100),
            plan: testPlanSchema.optional(),
            arms: z.array(armSchema).min(2).max(MOST_ARMS),
          }),
          z.strictObject({
            key: keySchema,
            kind: z.literal('waitFor'),
            event: z.enum(EVENT_TYPES),
            about: z.enum(['subject', 'customer']),
            where: conditionSchema.optional(),
            limit: durationSchema,
            came: stepsSchema,
            otherwise: stepsSchema,
          }),
        ]),
      )
      .max(200),
  )
  .meta({ id: 'Steps' })

const armSchema = z
  .strictObject({
    key: keySchema,
    name: nameSchema,
    weight: z.int().min(0).max(1000),
    holdout: z.boolean().optional(),
    steps: stepsSchema,
  })
  .refine((arm) => !arm.holdout || arm.steps.length === 0, 'a holdout gets nothing')

/** True for steps that a person reads something by. */
export function isMessage(step: Step): step is MessageStep {
  return isMessageChannel(step.kind)
}

/** True for messages that go to the customer. */
export function isToCustomer(step: Step): step is CustomerMessageStep {
  return reachesCustomers(step.kind)
}

/** True for messages that are mails. */
export function isMail(step: Step): step is MailStep {
  return isMailChannel(step.kind)
}

const BRANCHING: Readonly<Record<BranchingStep['kind'], true>> = {
  split: true,
  experiment: true,
  waitFor: true,
}

/** True for steps that hold lists of steps. */
export function isBranching(step: Step): step is BranchingStep {
  return step.kind in BRANCHING
}
