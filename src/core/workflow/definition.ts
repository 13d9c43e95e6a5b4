import { z } from 'zod'
import { conditionSchema } from '../conditions/condition.ts'
import { EVENT_TYPE_NAMES } from '../events/eventTypes.ts'
import { isDuration } from '../shared/duration.ts'

/** The version of the document format. A change that old readers cannot take raises it. */
export const FORMAT_VERSION = 1

const key = z.string().regex(/^[a-z][a-z0-9_-]{0,39}$/, 'must be a short key like wait-1')
/** May be empty while it is being typed; the go-live check asks for what has to be there. */
const name = z.string().max(120)
const address = z.string().max(254)
const duration = z.string().refine(isDuration, 'must be a duration like PT20M, P7D or P1M')

/** What a message is for. Only marketing asks for consent. */
export const purposeSchema = z.enum(['transactional', 'marketing'])

const waitSchema = z.strictObject({ key, kind: z.literal('wait'), for: duration })

const endSchema = z.strictObject({ key, kind: z.literal('end') })

const emailSchema = z.strictObject({
  key,
  kind: z.literal('email'),
  name,
  purpose: purposeSchema,
  /** `plain`: text only, as a person writes. `letter`: the same text also as simple HTML. */
  format: z.enum(['plain', 'letter']),
  sender: z.strictObject({ name, address }),
  replyTo: address.optional(),
  subject: z.string().max(300),
  previewText: z.string().max(300),
  body: z.string().max(50_000),
  onlyIf: conditionSchema.optional(),
})

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
  when: z.infer<typeof conditionSchema>
  steps: Step[]
}
export type WaitStep = z.infer<typeof waitSchema>
export type EndStep = z.infer<typeof endSchema>
export type EmailStep = z.infer<typeof emailSchema>
export type Step = WaitStep | EndStep | EmailStep | SplitStep

const stepsSchema: z.ZodType<Step[]> = z.lazy(() =>
  z
    .array(
      z.discriminatedUnion('kind', [
        waitSchema,
        emailSchema,
        endSchema,
        z.strictObject({
          key,
          kind: z.literal('split'),
          branches: z
            .array(z.strictObject({ key, name, when: conditionSchema, steps: stepsSchema }))
            .min(1)
            .max(24),
          otherwise: stepsSchema,
        }),
      ]),
    )
    .max(200),
)

const entrySchema = z.strictObject({
  /** How often one person may enter: every time, once ever, or a while after the last entry. */
  rule: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('every') }),
    z.strictObject({ kind: z.literal('once') }),
    z.strictObject({ kind: z.literal('after'), duration }),
  ]),
  /** Whether a person may be in it twice at a time. */
  overlap: z.enum(['allow', 'one']),
})

const exclusionSchema = z.strictObject({
  key,
  when: conditionSchema,
  /** `leave` ends the run; `skip` passes over the one message and goes on. */
  effect: z.enum(['leave', 'skip']),
})

/** A workflow document: who gets what, when, and never if. */
export const definitionSchema = z
  .strictObject({
    format: z.literal('yomble.workflow'),
    formatVersion: z.literal(FORMAT_VERSION),
    name,
    description: z.string().max(1000),
    /** Higher goes first where several workflows share a trigger. */
    priority: z.int().min(0).max(100),
    trigger: z.strictObject({
      event: z.enum(EVENT_TYPE_NAMES),
      filter: conditionSchema.optional(),
    }),
    entry: entrySchema,
    exclusions: z.array(exclusionSchema).max(40),
    steps: stepsSchema,
  })
  .superRefine((definition, context) => {
    for (const doubled of doubledKeys(definition)) {
      context.addIssue({
        code: 'custom',
        path: ['steps'],
        message: `the key "${doubled}" is used twice`,
      })
    }
  })
export type Definition = z.infer<typeof definitionSchema>
export type Exclusion = Definition['exclusions'][number]
export type EntryRule = Definition['entry']['rule']

function doubledKeys(definition: { exclusions: { key: string }[]; steps: Step[] }): string[] {
  const keys = [
    ...definition.exclusions.map((exclusion) => exclusion.key),
    ...stepKeys(definition.steps),
  ]
  return keys.filter((one, index) => keys.indexOf(one) !== index)
}

/** Every key of a list of steps, branches included, in reading order. */
export function stepKeys(steps: readonly Step[]): string[] {
  return steps.flatMap((step) => {
    if (step.kind !== 'split') return [step.key]
    const branches = step.branches.flatMap((branch) => [branch.key, ...stepKeys(branch.steps)])
    return [step.key, ...branches, ...stepKeys(step.otherwise)]
  })
}

/** Every step of a list and of the lists inside it, in reading order. */
export function allSteps(steps: readonly Step[]): Step[] {
  return steps.flatMap((step) =>
    step.kind === 'split'
      ? [
          step,
          ...step.branches.flatMap((branch) => allSteps(branch.steps)),
          ...allSteps(step.otherwise),
        ]
      : [step],
  )
}
