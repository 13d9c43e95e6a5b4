import {
  testsIn,
  type Condition,
  type Count,
  type HistoryCondition,
  type TestCondition,
} from '../../conditions/condition.ts'
import type { Definition } from '../../workflow/definition.ts'
import { isMessage, type SplitStep, type Step, type WaitForStep } from '../../workflow/steps.ts'
import { subjectOf, type Trigger } from '../../workflow/trigger.ts'
import { stops, type Finding, type FindingPlace } from '../finding.ts'
import { arePossible, type Claim } from '../reasoning/possible.ts'

/** Paths nobody can take, messages nobody can get, rules that shut everybody out. */
export function reachFindings({ trigger, exclusions, steps }: Definition): Finding[] {
  const filter: Claim[] = trigger.filter ? [{ condition: trigger.filter, holds: true }] : []
  const leaves = exclusions.filter(({ effect }) => effect === 'leave')
  const begin = [...filter, ...leaves.map(({ when }) => ({ condition: when, holds: false }))]
  if (!arePossible(filter, trigger)) {
    const title = 'Nobody can enter: the filter contradicts itself.'
    return [stops('filter-contradiction', { kind: 'trigger' }, title, CONTRADICTS)]
  }
  if (!arePossible(begin, trigger)) {
    const title = 'Nobody can enter: whoever the filter lets in, an exclusion keeps out.'
    const detail = 'The two ask the same thing. Take one of them back.'
    return [stops('all-excluded', { kind: 'exclusions' }, title, detail)]
  }
  const never = exclusions.flatMap(({ when }): Finding[] =>
    arePossible([{ condition: when, holds: true }], trigger) ? [] : [neverExcludes()],
  )
  const notExcluded = exclusions.map(({ when }): Claim => ({ condition: when, holds: false }))
  return [...never, ...listFindings(steps, claimsApart(begin), { trigger, notExcluded })]
}

/** What holds wherever in a workflow somebody is. */
interface Rules {
  trigger: Trigger
  /** What must be so before every message and every action outside. */
  notExcluded: readonly Claim[]
}

const CONTRADICTS = 'Two of its tests cannot both be true.'

const neverExcludes = (): Finding => ({
  code: 'never-excludes',
  severity: 'warning',
  place: { kind: 'exclusions' },
  title: 'An exclusion takes nobody out: its condition contradicts itself.',
  detail: CONTRADICTS,
})

/** What the steps of a list come to for those of whom the claims are true. */
function listFindings(steps: readonly Step[], begin: readonly Claim[], rules: Rules): Finding[] {
  let claims = begin
  return steps.flatMap((step) => {
    const here = claims
    // Time passes or something is done: only what cannot change is still known after it.
    claims = claims.flatMap((claim) => stillTrue(claim, rules.trigger))
    if (step.kind === 'split') return splitFindings(step, here, rules)
    if (step.kind === 'waitFor') return waitForFindings(step, claims, rules)
    if (step.kind === 'experiment') {
      return step.arms.flatMap((arm) => listFindings(arm.steps, here, rules))
    }
    return reachesNobody(step, here, rules)
  })
}

/** A message or action that all who get to it are kept from. */
function reachesNobody(step: Step, here: readonly Claim[], rules: Rules): Finding[] {
  const { trigger, notExcluded } = rules
  if (!isMessage(step) && step.kind !== 'coupon' && step.kind !== 'hook') return []
  const onlyIf = isMessage(step) ? step.onlyIf : undefined
  const wanted = onlyIf ? [...here, { condition: onlyIf, holds: true }] : here
  const place = { kind: 'step', key: step.key } as const
  if (onlyIf && !arePossible(wanted, trigger)) {
    const title = `“${step.name}” goes to nobody: nobody who gets here meets its condition.`
    const detail = 'Change the condition of the message, or the path it stands on.'
    return [stops('never-sent', place, title, detail)]
  }
  if (arePossible([...wanted, ...notExcluded], trigger)) return []
  const title = `“${step.name}” goes to nobody: an exclusion takes out everybody who gets here.`
  const detail = 'The path asks for what the exclusion forbids. Change one of the two.'
  return [stops('never-sent', place, title, detail)]
}

/** Both ways of a wait: to one somebody comes only once the event has happened. */
function waitForFindings(step: WaitForStep, claims: readonly Claim[], rules: Rules): Finding[] {
  const { event, about, where } = step
  const happened: Condition = {
    kind: 'history',
    event,
    about,
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
    ...(where && { where }),
  }
  const when = (holds: boolean): Claim[] => [...claims, { condition: happened, holds }]
  return [
    ...listFindings(step.came, when(true), rules),
    ...listFindings(step.otherwise, when(false), rules),
  ]
}

function splitFindings(split: SplitStep, here: readonly Claim[], rules: Rules): Finding[] {
  const { trigger } = rules
  const findings: Finding[] = []
  let rest: Claim[] = []
  for (const { key, name, when, steps } of split.branches) {
    const own: Claim = { condition: when, holds: true }
    const place = { kind: 'branch', branching: split.key, branch: key } as const
    const problem = pathProblem(`“${name}”`, place, { own, rest, here }, trigger)
    if (problem) findings.push(problem)
    else findings.push(...listFindings(steps, claimsApart([...here, ...rest, own]), rules))
    rest = [...rest, { condition: when, holds: false }]
  }
  const others = [...here, ...rest]
  if (arePossible(others, trigger)) {
    return [...findings, ...listFindings(split.otherwise, claimsApart(others), rules)]
  }
  const something = split.otherwise.some(({ kind }) => kind !== 'end')
  if (something) findings.push(nobodyElse(split.key))
  return findings
}

interface PathClaims {
  own: Claim
  /** That none of the paths above was taken. */
  rest: readonly Claim[]
  /** What is known of everybody who gets to the split. */
  here: readonly Claim[]
}

/** Why nobody takes a path; null when somebody may. */
function pathProblem(
  name: string,
  place: FindingPlace,
  { own, rest, here }: PathClaims,
  trigger: Trigger,
): Finding | null {
  if (!arePossible([own], trigger)) {
    const title = `Nobody takes the path ${name}: its condition contradicts itself.`
    return stops('path-contradiction', place, title, CONTRADICTS)
  }
  if (!arePossible([...rest, own], trigger)) {
    const title = `Nobody takes the path ${name}: the paths above it take them all.`
    const detail = 'The first path that fits counts. Move it up, or change what it asks.'
    return stops('path-taken', place, title, detail)
  }
  if (arePossible([...here, ...rest, own], trigger)) return null
  const title = `Nobody who gets here can take the path ${name}.`
  const detail = 'The filter, or a path before it, has let through only others.'
  return stops('path-unreachable', place, title, detail)
}

const nobodyElse = (branching: string): Finding => ({
  code: 'nobody-else',
  severity: 'warning',
  place: { kind: 'branch', branching, branch: null },
  title: 'Nobody is left for everyone else: the paths above it take them all.',
  detail: 'What stands on it will never happen.',
})

/** Claims taken apart, so that each part can be kept or dropped by itself. */
function claimsApart(claims: readonly Claim[]): Claim[] {
  return claims.flatMap((claim) => {
    const { condition, holds } = claim
    if (condition.kind === 'not') {
      return claimsApart([{ condition: condition.of, holds: !holds }])
    }
    if (condition.kind === 'segment') return claimsApart([{ condition: condition.of, holds }])
    const isConjunction =
      (condition.kind === 'all' && holds) || (condition.kind === 'any' && !holds)
    return isConjunction
      ? claimsApart(condition.of.map((one): Claim => ({ condition: one, holds })))
      : [claim]
  })
}

/**
 * What of a claim is true for ever. What is asked of an order, line or review itself stays as it is;
 * people and days pass; and what has been counted can only grow.
 */
function stillTrue(claim: Claim, trigger: Trigger): Claim[] {
  const { condition } = claim
  if (condition.kind === 'history') return atLeastSoOften(condition, claim.holds)
  return testsIn(condition).every((test) => staysTrue(test, trigger)) ? [claim] : []
}

function atLeastSoOften(condition: HistoryCondition, holds: boolean): Claim[] {
  const { count, window, where } = condition
  // What an event was about may be asked as it is now, and days pass out of a window.
  if (where || (window.kind !== 'ever' && window.kind !== 'sinceEntry')) return []
  const fewest = fewestOf(count, holds)
  return fewest > 0
    ? [{ condition: { ...condition, count: { op: 'atLeast', times: fewest } }, holds: true }]
    : []
}

/** How often something has happened at least when a count is met, or is not. */
function fewestOf({ op, times }: Count, holds: boolean): number {
  if (holds) return op === 'atMost' ? 0 : times
  return op === 'atMost' ? times + 1 : 0
}

function staysTrue(test: TestCondition, trigger: Trigger): boolean {
  if (test.kind === 'lines') return test.on === 'subject' && subjectOf(trigger) === 'order'
  if (test.kind !== 'field' || test.field === 'order.status') return false
  const isRelative = test.op === 'withinLast' || test.op === 'withinNext'
  return /^(order|line|review)\./.test(test.field) && !isRelative
}
