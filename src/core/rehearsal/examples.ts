import type { ShopFacts } from '../events/facts.ts'
import { formatInstant } from '../shared/time.ts'
import type { Definition } from '../workflow/definition.ts'
import type { Example, RehearsalOutcome } from '../workflow/example.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import { isBranching } from '../workflow/steps.ts'
import type { Subject } from '../workflow/rehearsalSubject.ts'
import { rehearse, type Rehearsed } from './rehearse.ts'
import { messagesOf, waysOf } from './story.ts'

/** What came of a rehearsal, to be kept. */
export function outcomeOf(told: Rehearsed): RehearsalOutcome {
  const exclusions = told.entries.flatMap(({ entry }) => {
    if (entry.kind === 'left') return entry.exclusion
    const isReason = entry.kind === 'skipped' || entry.kind === 'turnedAway'
    return isReason && entry.reason.code === 'exclusion' ? entry.reason.exclusion : []
  })
  return {
    runs: told.runs,
    messages: messagesOf(told).map(({ step, at }) => ({ step, at: formatInstant(at) })),
    ways: waysOf(told),
    exclusions: [...new Set(exclusions)],
  }
}

/** A rehearsal as an example. The arms that were drawn are kept with it, so that another draw changes nothing. */
export function exampleOf(
  key: string,
  name: string,
  { subject, definition, told }: { subject: Subject; definition: Definition; told: Rehearsed },
): Example {
  const experiments = new Set(allSteps(definition.steps).filter(({ kind }) => kind === 'experiment').map((step) => step.key)) // prettier-ignore
  const drawn = waysOf(told).flatMap(({ step, branch }) => branch !== null && experiments.has(step) ? [[step, branch] as const] : []) // prettier-ignore
  const arms = Object.fromEntries(drawn)
  return {
    key,
    name,
    subject: drawn.length === 0 ? subject : { ...subject, arms: { ...subject.arms, ...arms } },
    outcome: outcomeOf(told),
  }
}

/** Something in which a workflow now does otherwise than an example says. */
export type Difference =
  | { kind: 'comesIn'; times: number; expected: number }
  | { kind: 'gets'; step: string; at: string }
  | { kind: 'getsNoMore'; step: string }
  | { kind: 'otherTime'; step: string; at: string; expected: string }
  | { kind: 'otherWay'; step: string; branch: string | null; expected: string | null }

export interface CheckedExample {
  example: Example
  outcome: RehearsalOutcome
  /** The zone in which its local times are reckoned. */
  zone: string
  differences: Difference[]
}

/** Goes through the examples of a workflow again, as it is written now. */
export function checkExamples(definition: Definition, shop: ShopFacts): CheckedExample[] {
  return (definition.examples ?? []).map((example) => {
    const told = rehearse(definition, example.subject, shop)
    const outcome = outcomeOf(told)
    return { example, outcome, zone: told.zone, differences: differencesOf(example.outcome, outcome) } // prettier-ignore
  })
}

/** In what an outcome is another than was expected. The same message got twice is told apart by its place. */
export function differencesOf(expected: RehearsalOutcome, now: RehearsalOutcome): Difference[] {
  const comesIn: Difference[] =
    expected.runs === now.runs
      ? []
      : [{ kind: 'comesIn', times: now.runs, expected: expected.runs }]
  return [...comesIn, ...otherMessages(expected, now), ...otherWays(expected, now)]
}

function otherMessages(expected: RehearsalOutcome, now: RehearsalOutcome): Difference[] {
  const steps = new Set([...expected.messages, ...now.messages].map(({ step }) => step))
  return [...steps].flatMap((step) => {
    const own = ({ messages }: RehearsalOutcome) => messages.filter((one) => one.step === step)
    const [before, after] = [own(expected), own(now)]
    const length = Math.max(before.length, after.length)
    return Array.from({ length }, (_, place) => [before[place], after[place]] as const).flatMap(
      ([was, is]): Difference[] => {
        if (was && is) return was.at === is.at ? [] : [{ kind: 'otherTime', step, at: is.at, expected: was.at }] // prettier-ignore
        return is ? [{ kind: 'gets', step, at: is.at }] : [{ kind: 'getsNoMore', step }]
      },
    )
  })
}

function otherWays(expected: RehearsalOutcome, now: RehearsalOutcome): Difference[] {
  return now.ways.flatMap(({ step, branch }) => {
    const was = expected.ways.find((one) => one.step === step)
    return !was || was.branch === branch
      ? []
      : [{ kind: 'otherWay', step, branch, expected: was.branch } as const]
  })
}

/** What examples can reach: a path or an arm, an exclusion. */
export type Reachable =
  { kind: 'way'; step: string; branch: string | null } | { kind: 'exclusion'; key: string }

/** All that there is to reach in a workflow, and what none of its examples reaches, as they come out or as they are kept. */
export function coverage(
  definition: Definition,
  examples: readonly Pick<Example, 'outcome'>[],
): { all: number; missing: Reachable[] } {
  const ways = allSteps(definition.steps)
    .filter((step) => isBranching(step))
    .flatMap((step) => listsOf(step).map(({ branch }): Reachable => ({ kind: 'way', step: step.key, branch }))) // prettier-ignore
  const exclusions = definition.exclusions.map(({ key }): Reachable => ({ kind: 'exclusion', key }))
  const all = [...ways, ...exclusions]
  const isReached = (one: Reachable): boolean =>
    examples.some(({ outcome }) =>
      one.kind === 'exclusion'
        ? outcome.exclusions.includes(one.key)
        : outcome.ways.some(({ step, branch }) => step === one.step && branch === one.branch),
    )
  return { all: all.length, missing: all.filter((one) => !isReached(one)) }
}
