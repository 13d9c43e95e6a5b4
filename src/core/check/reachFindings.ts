import { testsIn, type TestCondition } from '../conditions/condition.ts'
import type { Definition } from '../workflow/definition.ts'
import { listsOf } from '../workflow/lists.ts'
import { isFork, isMessage, type SplitStep, type Step } from '../workflow/steps.ts'
import { subjectOf, type Trigger } from '../workflow/trigger.ts'
import { stops, type Finding, type FindingPlace } from './finding.ts'
import { arePossible, type Claim } from './reasoning/possible.ts'

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
  return [...never, ...listFindings(steps, claimsApart(begin), trigger)]
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
function listFindings(
  steps: readonly Step[],
  begin: readonly Claim[],
  trigger: Trigger,
): Finding[] {
  let claims = begin
  return steps.flatMap((step) => {
    const here = claims
    // Time passes or something is done: only what cannot change is still known after it.
    claims = claims.filter(isSteadyIn(trigger))
    if (step.kind === 'split') return splitFindings(step, here, trigger)
    if (isFork(step)) {
      const inside = step.kind === 'experiment' ? here : claims
      return listsOf(step).flatMap((list) => listFindings(list.steps, inside, trigger))
    }
    const onlyIf = isMessage(step) ? step.onlyIf : undefined
    if (!onlyIf || arePossible([...here, { condition: onlyIf, holds: true }], trigger)) return []
    const name = isMessage(step) ? step.name : ''
    const title = `“${name}” goes to nobody: nobody who gets here meets its condition.`
    const detail = 'Change the condition of the message, or the path it stands on.'
    return [stops('never-sent', { kind: 'step', key: step.key }, title, detail)]
  })
}

function splitFindings(split: SplitStep, here: readonly Claim[], trigger: Trigger): Finding[] {
  const findings: Finding[] = []
  let rest: Claim[] = []
  for (const { key, name, when, steps } of split.branches) {
    const own: Claim = { condition: when, holds: true }
    const place = { kind: 'branch', fork: split.key, branch: key } as const
    const problem = pathProblem(`“${name}”`, place, { own, rest, here }, trigger)
    if (problem) findings.push(problem)
    else findings.push(...listFindings(steps, claimsApart([...here, ...rest, own]), trigger))
    rest = [...rest, { condition: when, holds: false }]
  }
  const others = [...here, ...rest]
  if (arePossible(others, trigger)) {
    return [...findings, ...listFindings(split.otherwise, claimsApart(others), trigger)]
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

const nobodyElse = (fork: string): Finding => ({
  code: 'nobody-else',
  severity: 'warning',
  place: { kind: 'branch', fork, branch: null },
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
    const isConjunction =
      (condition.kind === 'all' && holds) || (condition.kind === 'any' && !holds)
    return isConjunction
      ? claimsApart(condition.of.map((one): Claim => ({ condition: one, holds })))
      : [claim]
  })
}

/** What is asked of an order, line or review itself stays as it is; people, counts and days pass. */
const isSteadyIn =
  (trigger: Trigger) =>
  ({ condition }: Claim): boolean =>
    testsIn(condition).every((test) => staysTrue(test, trigger))

function staysTrue(test: TestCondition, trigger: Trigger): boolean {
  if (test.kind === 'lines') return test.on === 'subject' && subjectOf(trigger) === 'order'
  if (test.kind !== 'field' || test.field === 'order.status') return false
  const isRelative = test.op === 'withinLast' || test.op === 'withinNext'
  return /^(order|line|review)\./.test(test.field) && !isRelative
}
