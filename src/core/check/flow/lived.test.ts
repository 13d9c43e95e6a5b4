import fc from 'fast-check'
import { expect, test } from 'vitest'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { happenings, shopRules } from '../../../testing/model/happenings.ts'
import { interpret } from '../../../testing/model/inMemory.ts'
import type { Decision } from '../../workflow/decision.ts'
import { showsCoupon } from '../../workflow/templates.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isMessage } from '../../workflow/steps.ts'
import type { Finding } from '../finding.ts'
import { reachFindings } from './reachFindings.ts'
import { reachedSteps } from './ways.ts'

const cases = fc.tuple(definitions, happenings, shopRules)

/** Whether a decision is one that a finding says nobody can come to. */
function isDenied({ code, place }: Finding, decision: Decision): boolean {
  if (place.kind === 'trigger' || code === 'all-excluded') return decision.kind === 'entered'
  if (place.kind === 'step') return 'step' in decision && decision.step === place.key && GETS.has(decision.kind) // prettier-ignore
  if (place.kind !== 'branch' || decision.kind !== 'tookBranch') return false
  return decision.step === place.branching && decision.branch === place.branch
}

const GETS: ReadonlySet<Decision['kind']> = new Set(['sends', 'issues', 'calls'])

test('nobody is ever where the check says that nobody can come', () => {
  let denials = 0
  fc.assert(
    fc.property(cases, ([definition, list, rules]) => {
      const findings = reachFindings(definition)
      denials += findings.length
      const lived = interpret(definition, list, rules)
      for (const finding of findings) {
        expect(lived.filter(({ decision }) => isDenied(finding, decision))).toEqual([])
      }
    }),
    { numRuns: 3000 },
  )
  expect(denials).toBeGreaterThan(100)
}, 60_000)

test('a code has been issued on the ways where the check says so, and on no others', () => {
  const said = { all: 0, some: 0, none: 0 }
  fc.assert(
    fc.property(cases, ([definition, list, rules]) => {
      const coupons = new Set(allSteps(definition.steps).flatMap(({ key, kind }) => (kind === 'coupon' ? [key] : []))) // prettier-ignore
      const lived = interpret(definition, list, rules)
      const ways = new Map(reachedSteps(definition).map((one) => [one.step.key, one]))
      lived.forEach(({ run, decision }, index) => {
        if (decision.kind !== 'sends') return
        const way = ways.get(decision.step)
        const before = lived.slice(0, index).filter((one) => one.run === run)
        const issued = before.some((one) => one.decision.kind === 'issues' && coupons.has(one.decision.step)) // prettier-ignore
        expect(way).toBeDefined()
        if (way?.coupon === 'none') expect(issued).toBe(false)
        // It is issued with the first message that shows it.
        if (!way || !isMessage(way.step) || !showsCoupon(way.step)) return
        if (way.coupon === 'all') expect(issued).toBe(true)
        said[way.coupon] += 1
      })
    }),
    { numRuns: 3000 },
  )
  expect(Math.min(...Object.values(said))).toBeGreaterThan(0)
}, 60_000)
