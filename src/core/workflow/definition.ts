import { z } from 'zod'
import { conditionSchema } from '../conditions/condition.ts'
import { keySchema } from '../shared/key.ts'
import { exampleSchema, MOST_EXAMPLES } from './example.ts'
import { branchingLevels, stepKeys } from './lists.ts'
import { durationSchema, nameSchema, stepsSchema, type Step } from './steps.ts'
import { triggerSchema } from './trigger.ts'

/** The version of the document format. A change that old readers cannot take raises it. */
export const FORMAT_VERSION = 1

/** How deep branching steps may lie inside each other; a timetable of this depth is no longer read by anybody. */
const MOST_BRANCHING_LEVELS = 20

const entrySchema = z.strictObject({
  /** How often one person may enter: every time, once ever, or a while after the last entry. */
  rule: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('every') }),
    z.strictObject({ kind: z.literal('once') }),
    z.strictObject({ kind: z.literal('after'), duration: durationSchema }),
  ]),
  /** Whether a person may be in it twice at a time. */
  overlap: z.enum(['allow', 'one']),
})

const exclusionSchema = z.strictObject({
  key: keySchema,
  when: conditionSchema,
  /** `leave` ends the run; `skip` passes over the one step and goes on. */
  effect: z.enum(['leave', 'skip']),
})

const answerSchema = z.strictObject({
  /** The finding, as `findingId` names it. */
  finding: z.string().max(200),
  note: z.string().trim().min(1).max(500),
})

/** A workflow document: who gets what, when, and never if. */
export const definitionSchema = z
  .strictObject({
    format: z.literal('yomble.workflow'),
    formatVersion: z.literal(FORMAT_VERSION),
    name: nameSchema,
    description: z.string().max(1000),
    /** What it is filed under, for the list. */
    labels: z.array(z.string().trim().min(1).max(40)).max(10).optional(),
    /** Higher goes first where several workflows share a trigger. */
    priority: z.int().min(0).max(100),
    trigger: triggerSchema,
    entry: entrySchema,
    exclusions: z.array(exclusionSchema).max(40),
    steps: stepsSchema,
    /** Advice of the go-live check that somebody has answered: which, and why it is right as it is. */
    answered: z.array(answerSchema).max(100).optional(),
    /** Rehearsals that are gone through again at each change. */
    examples: z.array(exampleSchema).max(MOST_EXAMPLES).optional(),
  })
  .superRefine((definition, context) => {
    if (branchingLevels(definition.steps) > MOST_BRANCHING_LEVELS) {
      context.addIssue({
        code: 'custom',
        path: ['steps'],
        message: `may hold splits, experiments and waits for events ${MOST_BRANCHING_LEVELS} levels deep, and no deeper`,
      })
    }
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
