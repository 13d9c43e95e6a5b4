import { beforeAll, describe, expect, test } from 'vitest'
import type { ShopFacts } from '../../core/events/facts.ts'
import { countFor } from '../../core/experiments/counts.ts'
import { judge, type Judgement } from '../../core/experiments/judge.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { differenceInterval } from '../../core/statistics/rates.ts'
import { compileProgram } from '../../core/workflow/compile.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import type { ExperimentStep } from '../../core/workflow/steps.ts'
import { USUAL_PLAN } from '../../core/workflow/testPlan.ts'
import { makeHistory } from '../history.ts'
import { DEMO_FACTS } from '../shopFacts.ts'
import { LIVED } from '../seed.ts'
import { LIVE_WORKFLOWS } from '../workflows/index.ts'
import { livePast, livesIn, reordersBefore } from './livePast.ts'
import { ownerOf } from '../../core/life/oneLife.ts'
import type { LivedPast } from './rows.ts'

/*
 * What the screens would say of the demo's tests, against what is true of its people: their lives are gone through once
 * as they were drawn, and once more for each arm with everybody in it. The difference of the latter is the truth.
 */

const SHOP: ShopFacts = { ...DEMO_FACTS, holdout: { percent: 10, since: LIVED.from } }

const history = makeHistory()

type Change = (definition: Definition) => Definition

function lives(wanted: (id: string) => boolean, change: Change = (one) => one): LivedPast {
  const workflows = LIVE_WORKFLOWS.map((definition) => {
    const program = compileProgram(change(definition))
    return { id: definition.name, version: 1, program }
  })
  const known = history.filter((event) => event.at <= LIVED.until && wanted(ownerOf(event)))
  return livePast(SHOP, workflows, livesIn(known), {
    ...LIVED,
    reorders: reordersBefore(known, LIVED.from),
  })
}

const experimentIn = (name: string): ExperimentStep => {
  const definition = LIVE_WORKFLOWS.find((one) => one.name === name)
  const step = allSteps(definition?.steps ?? []).find(({ kind }) => kind === 'experiment')
  if (step?.kind !== 'experiment') throw new Error(`${name} has no experiment`)
  return step
}

interface Draw {
  arm: string
  did: boolean
  isOver: boolean
}

/** Everybody's first draw, and whether they did what the test is decided by within its window. */
function drawsOf(lived: LivedPast, name: string): Draw[] {
  const { key, plan = USUAL_PLAN } = experimentIn(name)
  const type = plan.measure === 'reviewed' ? 'review.submitted' : 'order.placed'
  const times = new Map<string, Instant[]>()
  for (const event of lived.events) {
    if (event.event.type !== type) continue
    times.set(ownerOf(event), [...(times.get(ownerOf(event)) ?? []), event.at])
  }
  const draws = new Map<string, Draw>()
  for (const { workflow, customerId, at, entry } of lived.entries) {
    if (workflow.id !== name || entry.kind !== 'tookArm' || entry.step !== key || draws.has(customerId)) continue
    const until = at + plan.windowDays * DAY_MS
    const did = (times.get(customerId) ?? []).some((time) => time > at && time <= until)
    draws.set(customerId, { arm: entry.arm, did, isOver: until <= LIVED.until })
  }
  return [...draws.values()]
} // prettier-ignore

function judgement(lived: LivedPast, name: string): Judgement {
  const { arms, plan = USUAL_PLAN } = experimentIn(name)
  const draws = drawsOf(lived, name)
  const counts = arms.map(({ key, weight, holdout = false }) => {
    const own = draws.filter(({ arm }) => arm === key)
    const did = own.filter((one) => one.isOver && one.did).length
    const nothing = { revenueMinor: 0, revenueSquares: 0, clicked: 0, unsubscribed: 0 }
    const people = own.filter(({ isOver }) => isOver).length
    return countFor(plan.measure, { key, weight, holdout, drawn: own.length, people, ordered: did, reviewed: did, ...nothing }) // prettier-ignore
  })
  return judge({ plan, arms: counts, now: LIVED.until, perDay: draws.length / 183 })
}

/** How many of those drawn do it with everybody in one arm: of a fourth of the people, for the tests' sake. */
function trueShare(name: string, arm: string): number {
  const inOneArm: Change = (definition) =>
    definition.name === name
      ? (JSON.parse(JSON.stringify(definition), (_key, value: unknown) => withAllIn(value, arm)) as Definition)
      : definition
  const lived = lives((id) => Number(id.slice(2)) % 4 === 0, inOneArm)
  const over = drawsOf(lived, name).filter(({ isOver }) => isOver)
  return over.filter(({ did }) => did).length / over.length
} // prettier-ignore

const withAllIn = (value: unknown, arm: string): unknown => {
  const { arms } = (value ?? {}) as Partial<ExperimentStep>
  if (!Array.isArray(arms)) return value
  return { ...(value as ExperimentStep), arms: arms.map((one) => ({ ...one, weight: one.key === arm ? 1 : 0 })) } // prettier-ignore
}

let lived: LivedPast
beforeAll(() => {
  lived = lives(() => true)
})

describe('what can be decided is, and its interval holds the truth', () => {
  test.each([
    ['Review request', 'early', 'late'],
    ['Two quiet months', 'letter', 'none'],
  ])('%s', (name, better, other) => {
    const truth = trueShare(name, better) - trueShare(name, other)
    expect(truth).toBeGreaterThan(0.02)
    const { verdict, comparisons } = judgement(lived, name)
    const [comparison] = comparisons
    const sign = comparison?.arm === better ? 1 : -1
    expect(verdict).toMatchObject({ kind: 'decided' })
    const { low = NaN, high = NaN } = comparison?.always ?? {}
    expect(Math.min(low * sign, high * sign)).toBeLessThan(truth)
    expect(Math.max(low * sign, high * sign)).toBeGreaterThan(truth)
  })
})

test('what needs years says so', () => {
  const { verdict, plannedAt } = judgement(lived, 'Open checkout')
  expect(verdict.kind).toBe('open')
  expect((plannedAt ?? 0) - LIVED.until).toBeGreaterThan(365 * DAY_MS)
})

test('arms that were not parted as meant are not judged', () => {
  const { verdict, ratioP } = judgement(lived, 'Thanks for a review')
  expect(verdict.kind).toBe('skewed')
  expect(ratioP).toBeLessThan(0.001)
})

test('nobody is in two arms of one test, and both arms of a fair one are about as large', () => {
  const draws = drawsOf(lived, 'Review request')
  const early = draws.filter(({ arm }) => arm === 'early').length
  const interval = differenceInterval({ did: early, of: draws.length }, { did: draws.length - early, of: draws.length }) // prettier-ignore
  expect(interval?.low).toBeLessThan(0)
  expect(interval?.high).toBeGreaterThan(0)
})
