import { expect, test } from 'vitest'
import { aDefinition, anEmail, wait } from '../../testing/builders.ts'
import type { ExperimentStep } from '../workflow/steps.ts'
import { armDrift } from './armDrift.ts'
import { testPeriods } from './period.ts'

const experiment = (over: Partial<ExperimentStep> = {}): ExperimentStep => ({
  key: 'test',
  kind: 'experiment',
  name: 'When',
  lottery: 'l',
  arms: [
    { key: 'a', name: 'A', weight: 50, steps: [anEmail('one')] },
    { key: 'b', name: 'B', weight: 50, steps: [wait('w', 'P1D'), anEmail('two')] },
  ],
  ...over,
})
const version = (number: number, step: ExperimentStep | null) => ({
  version: number,
  publishedAt: number * 1000,
  definition: aDefinition({ steps: step ? [step] : [] }),
})

test('names, the plan and what stands elsewhere change nothing; arms, weights and the lottery do', () => {
  const [base] = experiment().arms
  if (!base) throw new Error('no arm')
  const named = experiment({
    name: 'How soon',
    plan: { measure: 'clicked', windowDays: 7, least: 0.1 },
  })
  const weighed = experiment({ arms: experiment().arms.map((arm) => ({ ...arm, weight: 10 })) })
  const periods = testPeriods([version(1, experiment()), version(2, named), version(3, weighed)], 'test') // prettier-ignore
  expect(periods.map(({ versions, from, until }) => ({ versions, from, until }))).toEqual([
    { versions: [3], from: 3000, until: null },
    { versions: [1, 2], from: 1000, until: 3000 },
  ])
  expect(periods[1]?.step.name).toBe('How soon')
  expect(testPeriods([version(1, experiment()), version(2, experiment({ lottery: 'm' }))], 'test')).toHaveLength(2) // prettier-ignore
})

test('one that is taken out has ended; put back, it begins anew', () => {
  const periods = testPeriods([version(1, experiment()), version(2, null), version(3, experiment())], 'test') // prettier-ignore
  expect(periods.map(({ from, until }) => [from, until])).toEqual([
    [3000, null],
    [1000, 2000],
  ])
})

test('arms that differ in more than is tested are told: the clock, coupons, numbers of messages', () => {
  const coupon = { key: 'c', kind: 'coupon' as const, name: 'Ten', pattern: 'X-####', discount: { kind: 'percent' as const, percent: 10 } } // prettier-ignore
  const step = experiment({
    arms: [
      { key: 'a', name: 'A', weight: 50, steps: [anEmail('one'), anEmail('more')] },
      { key: 'b', name: 'B', weight: 50, steps: [wait('w', 'P1D'), coupon, anEmail('two')] },
      { key: 'c', name: 'None', weight: 10, holdout: true, steps: [] },
    ],
  })
  const later = { ...wait('later', 'P1D'), at: '11:00' } as ReturnType<typeof wait>
  const drift = armDrift(aDefinition({ steps: [step, later, anEmail('after')] }), step)
  expect(drift.map(({ code }) => code).toSorted()).toEqual(['couponInSome', 'laterByClock', 'messages']) // prettier-ignore
  expect(armDrift(aDefinition({ steps: [experiment(), later] }), experiment())).toEqual([
    { code: 'laterByClock', stop: 'later' },
  ])
  expect(armDrift(aDefinition({ steps: [experiment()] }), experiment())).toEqual([])
})
