import { z } from 'zod'
import type { Definition } from './definition.ts'
import { lotteriesIn, withOwnLotteries } from './lotteries.ts'
import { addBranch, freshKey, insertStep, insertSteps } from './edit.ts'
import { allSteps, listsOf, stepKeys, type Place } from './lists.ts'
import { renameInCondition, renameKeys } from './renameKeys.ts'
import { isBranching, MOST_PATHS, stepsSchema, type SplitBranch, type Step } from './steps.ts'

/** Steps, or a path of a split, on their way to another place or workflow. */
export type Clipping = { kind: 'steps'; steps: Step[] } | { kind: 'path'; branch: SplitBranch }

const FORMAT = 'yomble.clipping'

const clippingSchema = z.strictObject({
  format: z.literal(FORMAT),
  formatVersion: z.literal(1),
  kind: z.enum(['steps', 'path']),
  steps: stepsSchema,
})

/** A clipping as text, for a clipboard. A path travels as a split of its own. */
export function clippingText(clipping: Clipping): string {
  const steps =
    clipping.kind === 'steps'
      ? clipping.steps
      : [{ key: 'split', kind: 'split', branches: [clipping.branch], otherwise: [] }]
  return JSON.stringify({ format: FORMAT, formatVersion: 1, kind: clipping.kind, steps })
}

/** Reads a clipping from text; null for a text that is none. */
export function readClipping(text: string): Clipping | null {
  const parsed = clippingSchema.safeParse(jsonOf(text))
  if (!parsed.success) return null
  const { kind, steps } = parsed.data
  if (kind === 'steps') return steps.length === 0 ? null : { kind, steps }
  const split = steps[0]
  const branch = split?.kind === 'split' ? split.branches[0] : undefined
  return branch ? { kind, branch } : null
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    return null
  }
}

/** The step of a key as a clipping; a branching step goes with all that is inside it. */
export function clipStep(definition: Definition, key: string): Clipping | null {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  return step ? { kind: 'steps', steps: [step] } : null
}

/**
 * A path as a clipping: of a split the path with its condition, of any other branching step, or of everyone else,
 * the steps on it. Null when there is nothing on it.
 */
export function clipPath(
  definition: Definition,
  branchingKey: string,
  branchKey: string | null,
): Clipping | null {
  const branching = allSteps(definition.steps).find(({ key }) => key === branchingKey)
  if (!branching || !isBranching(branching)) return null
  const branch =
    branching.kind === 'split' ? branching.branches.find(({ key }) => key === branchKey) : undefined
  if (branch) return { kind: 'path', branch }
  const steps = listsOf(branching).find((list) => list.branch === branchKey)?.steps ?? []
  return steps.length === 0 ? null : { kind: 'steps', steps }
}

/** A copy of a clipping whose experiments draw by themselves. */
export const clippingWithOwnLotteries = (clipping: Clipping, newLottery: () => string): Clipping =>
  withLotteries(clipping, () => true, newLottery)

function withLotteries(
  clipping: Clipping,
  isTaken: (lottery: string) => boolean,
  newLottery: () => string,
): Clipping {
  if (clipping.kind === 'steps') {
    return { ...clipping, steps: withOwnLotteries(clipping.steps, isTaken, newLottery) }
  }
  const { branch } = clipping
  const steps = withOwnLotteries(branch.steps, isTaken, newLottery)
  return { ...clipping, branch: { ...branch, steps } }
}

/** What was pasted, and the key to select. */
export interface Pasted {
  definition: Definition
  key: string
  /** The split it became a path of. */
  branching: string | null
}

/**
 * Puts a clipping at a place, under keys that the definition does not use, with lotteries of its own where
 * the definition has an experiment with the same one. A path becomes another one
 * of the split that the place lies directly in, or else a split of its own; so it does where that has
 * as many as it can have. Throws RangeError when there is no such place.
 */
export function paste(
  definition: Definition,
  place: Place,
  given: Clipping,
  newLottery: () => string,
): Pasted {
  const taken = new Set(lotteriesIn(definition.steps))
  const clipping = withLotteries(given, (lottery) => taken.has(lottery), newLottery)
  if (clipping.kind === 'steps') {
    const steps = withFreshKeys(definition, clipping.steps)
    const key = steps[0]?.key ?? ''
    return { definition: insertSteps(definition, place, steps), key, branching: null }
  }
  const branching = place.list === null ? undefined : stepOf(definition, place.list.branching)
  if (branching?.kind === 'split' && branching.branches.length < MOST_PATHS) {
    return pastePath(definition, branching.key, clipping.branch)
  }
  const key = freshKey(definition, 'split')
  const split: Step = { key, kind: 'split', branches: [], otherwise: [] }
  return pastePath(insertStep(definition, place, split), key, clipping.branch)
}

const stepOf = (definition: Definition, key: string): Step | undefined =>
  allSteps(definition.steps).find((one) => one.key === key)

/** Adds a copied path to a split, after its others. */
export function pastePath(
  definition: Definition,
  branchingKey: string,
  branch: SplitBranch,
): Pasted {
  const names = freshNames(definition, [branch.key, ...stepKeys(branch.steps)])
  const copy: SplitBranch = {
    ...branch,
    key: names.get(branch.key) ?? branch.key,
    when: renameInCondition(branch.when, names),
    steps: renameKeys(branch.steps, names),
  }
  return {
    definition: addBranch(definition, branchingKey, copy),
    key: copy.key,
    branching: branchingKey,
  }
}

function withFreshKeys(definition: Definition, steps: readonly Step[]): Step[] {
  return renameKeys(steps, freshNames(definition, stepKeys(steps)))
}

/** Keeps the keys that are free; gives the others a number of their own. */
function freshNames(definition: Definition, keys: readonly string[]): Map<string, string> {
  const used = new Set([
    ...stepKeys(definition.steps),
    ...definition.exclusions.map(({ key }) => key),
  ])
  const names = new Map<string, string>()
  for (const key of keys) {
    const name = used.has(key) ? numbered(key, used) : key
    used.add(name)
    names.set(key, name)
  }
  return names
}

function numbered(key: string, used: ReadonlySet<string>): string {
  // Keys have at most 40 characters.
  const stem = key.replace(/-\d+$/, '').slice(0, 34)
  let number = 2
  while (used.has(`${stem}-${number}`)) number += 1
  return `${stem}-${number}`
}
