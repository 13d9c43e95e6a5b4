import { conditionSchema, testsIn, type Condition, type TestCondition } from './condition.ts'
import { findField } from './fields.ts'
import type { z } from 'zod'

/** Why a test cannot be asked of people by themselves, who are in no workflow; null for one that can. */
export function peopleProblem(test: TestCondition): string | null {
  switch (test.kind) {
    case 'field':
      return findField(test.field)?.about === 'customer'
        ? null
        : 'asks about something that people by themselves have not'
    case 'lines':
      return test.on === 'orders' ? null : 'asks about one order, and there is none'
    case 'history':
      if (test.about === 'subject') return 'asks about one order or the like, and there is none'
      return windowProblem(test)
    case 'workflows':
    case 'messages':
      if (test.workflow === 'this') return 'asks about “this workflow”, and there is none'
      return windowProblem(test)
  }
}

const windowProblem = ({ window }: { window: { kind: string } }): string | null =>
  window.kind === 'sinceEntry' ? 'counts “since entry”, and nobody has entered anything' : null

/** The condition language where people are asked about by themselves: in searches and segments. */
export const peopleConditionSchema: z.ZodType<Condition> = conditionSchema.superRefine(
  (condition, context) => {
    for (const test of testsIn(condition)) {
      const problem = peopleProblem(test)
      if (problem) context.addIssue({ code: 'custom', message: `“${test.kind}” ${problem}` })
    }
  },
)
