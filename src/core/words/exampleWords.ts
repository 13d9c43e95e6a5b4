import type { Difference, Reachable } from '../rehearsal/examples.ts'
import { parseInstant } from '../shared/time.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import { isBranching } from '../workflow/steps.ts'
import type { WordContext } from './conditions.ts'
import { exclusionRule } from './exclusionRule.ts'
import { dateWords, plural } from './quantities.ts'
import { stepName } from './steps.ts'
import { wayName } from './wayNames.ts'

/** In what a workflow does otherwise than an example says: "now gets “Care guide”, on 17 April, 11:20". */
export function differenceWords(
  difference: Difference,
  definition: Definition,
  zone: string,
): string {
  const nameOf = (step: string) => `“${stepName(definition, step)}”`
  const when = (at: string) => dateWords(parseInstant(at) ?? 0, zone)
  switch (difference.kind) {
    case 'comesIn':
      return difference.times === 0
        ? 'no longer comes in'
        : `now comes in ${difference.expected === 0 ? '' : `${plural(difference.times, 'time')} instead of ${difference.expected}`}`.trim()
    case 'gets':
      return `now gets ${nameOf(difference.step)}, on ${when(difference.at)}`
    case 'getsNoMore':
      return `no longer gets ${nameOf(difference.step)}`
    case 'otherTime':
      return `gets ${nameOf(difference.step)} on ${when(difference.at)} instead of ${when(difference.expected)}`
    case 'otherWay':
      return `takes “${wayWords(definition, difference.step, difference.branch)}” instead of “${wayWords(definition, difference.step, difference.expected)}”`
  }
}

/** What no example reaches: "the path “Hives”", "the exclusion: this order was refunded". */
export function reachableWords(
  one: Reachable,
  definition: Definition,
  context: WordContext,
): string {
  if (one.kind === 'way') return `the path “${wayWords(definition, one.step, one.branch)}”`
  return `the exclusion: ${exclusionRule(one.key, definition, context)}`
}

/** A path by its name; of one that is gone, that it is. */
export function wayWords(definition: Definition, key: string, branch: string | null): string {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  if (!step || !isBranching(step)) return 'a path that is gone'
  const list = listsOf(step).find((one) => one.branch === branch)
  return list ? wayName(step, list) : 'a path that is gone'
}

const LONGEST_NAME = 120

/** What an example is called that was looked for: "Takes “Hives”", "Held back: this order was refunded". */
export function exampleName(
  one: Reachable | null,
  definition: Definition,
  context: WordContext,
): string {
  if (one === null) return 'Somebody new, and nothing else happens'
  const name =
    one.kind === 'way'
      ? `Takes “${wayWords(definition, one.step, one.branch)}”`
      : `Held back: ${exclusionRule(one.key, definition, context)}`
  return name.slice(0, LONGEST_NAME)
}
