import { z } from 'zod'

/** What an experiment can be decided by. */
export const TEST_MEASURES = ['ordered', 'revenue', 'clicked', 'reviewed', 'unsubscribed'] as const
export type TestMeasure = (typeof TEST_MEASURES)[number]

/** What is to be found out by an experiment, said before it begins. */
export const testPlanSchema = z.strictObject({
  measure: z.enum(TEST_MEASURES),
  /** How long after the draw counts what people do, for every arm alike. */
  windowDays: z.int().min(1).max(180),
  /**
   * The least difference worth knowing: of a share, as a share (0.02: two in a hundred); of revenue, in
   * minor units per person.
   */
  least: z.number().positive().max(1_000_000_000),
  /** How often the test is to see that difference, if there is one. */
  power: z.number().min(0.5).max(0.99).optional(),
  /** How often it may see one that there is not. */
  level: z.number().min(0.001).max(0.2).optional(),
})
export type TestPlan = z.infer<typeof testPlanSchema>

export const USUAL_POWER = 0.8
export const USUAL_LEVEL = 0.05

/** What an experiment without a plan is looked at by. */
export const USUAL_PLAN: TestPlan = { measure: 'ordered', windowDays: 30, least: 0.02 }

/** True where fewer are better: nobody wants people to unsubscribe. */
export const isBetterLow = (measure: TestMeasure): boolean => measure === 'unsubscribed'
