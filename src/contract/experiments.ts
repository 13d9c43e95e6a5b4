import { z } from 'zod'
import { definitionSchema } from '../core/workflow/definition.ts'
import { testPlanSchema } from '../core/workflow/testPlan.ts'

/** What is known of one arm of an experiment: of everybody drawn into it, from the moment of their draw. */
export const armReport = z.object({
  key: z.string(),
  name: z.string(),
  weight: z.number(),
  holdout: z.boolean(),
  /** Everybody, those too whose window is not over. */
  drawn: z.int(),
  /** Whose window is over; all that follows is of them. */
  people: z.int(),
  ordered: z.int(),
  orders: z.int(),
  /** In the shop's currency, with what is above `cutMinor` an order cut to it. */
  revenueMinor: z.number(),
  /** The sum of the squares of what each spent, cut alike. */
  revenueSquares: z.number(),
  uncutMinor: z.int(),
  clicked: z.int(),
  reviewed: z.int(),
  unsubscribed: z.int(),
})
export type ArmReport = z.infer<typeof armReport>

/** What an experiment has come to in one period. */
export const experimentReport = z.object({
  step: z.string(),
  name: z.string(),
  plan: testPlanSchema,
  /** True where nobody has said what is to be found out: it is looked at as is usual. */
  isUnplanned: z.boolean(),
  versions: z.array(z.int()),
  from: z.int(),
  /** When its arms were changed or taken out; null while it goes on. */
  until: z.int().nullable(),
  now: z.int(),
  /** How many were drawn a day in the last four weeks of it. */
  perDay: z.number(),
  /** What counts at most of one order: the 99th percentile of the shop's last year. */
  cutMinor: z.int(),
  /** The last-touch revenue of its messages in the windows, by arm. */
  attributedMinor: z.int(),
  arms: z.array(armReport),
  /** Others that part the same people, with how many they share. */
  touching: z.array(
    z.object({
      workflowId: z.string(),
      step: z.string(),
      people: z.int(),
      /** Both go by one draw: who has the first arm here has the first there. */
      isSameDraw: z.boolean(),
    }),
  ),
})
export type ExperimentReport = z.infer<typeof experimentReport>

/** What was decided of an experiment, with the figures of that moment. */
export const testDecision = z.object({
  id: z.int(),
  at: z.int(),
  by: z.string(),
  arm: z.string(),
  note: z.string(),
  report: experimentReport,
})
export type TestDecision = z.infer<typeof testDecision>

export const experimentsResponse = z.object({
  /** The period that goes on or was last, by the place of the experiments in the workflow. */
  reports: z.array(experimentReport),
  /** Earlier periods of the same experiments, whose arms were different. */
  earlier: z.array(experimentReport),
  decisions: z.array(testDecision),
})

export type ExperimentsResponse = z.infer<typeof experimentsResponse>

export const decideBody = z.strictObject({
  arm: z.string().min(1).max(100),
  note: z.string().trim().max(2000),
  /** The draft that the decision is made in. */
  revision: z.int(),
})

/** Before an experiment runs: who would have been parted by it in the last 90 days. */
export const trafficBody = z.strictObject({ definition: definitionSchema, step: z.string() })
export const trafficResponse = z
  .object({
    /** Since when the past was gone through. */
    since: z.int(),
    now: z.int(),
    /** It is reckoned from one in so many people, drawn by lot; 1 for all. */
    oneIn: z.int(),
    people: z.int(),
    /** Of those whose window is over by now. */
    watched: z.int(),
    ordered: z.int(),
    revenueMinor: z.number(),
    revenueSquares: z.number(),
    reviewed: z.int(),
    unsubscribed: z.int(),
  })
  .nullable()
export type TrafficResponse = z.infer<typeof trafficResponse>
