import type { Definition } from './definition.ts'
import { allSteps, stepKeys, withLists, type ListRef, type Place } from './lists.ts'
import { isBranching, type Arm, type SplitBranch, type Step } from './steps.ts'

/** A key that neither the definition uses yet nor is among `others`: `email-1`, `email-2`, … */
export function freshKey(
  definition: Definition,
  prefix: string,
  others: readonly string[] = [],
): string {
  const used = new Set([
    ...others,
    ...stepKeys(definition.steps),
    ...definition.exclusions.map(({ key }) => key),
  ])
  let number = 1
  while (used.has(`${prefix}-${number}`)) number += 1
  return `${prefix}-${number}`
}

/** Puts a step at a place. Throws RangeError when the place is in no list of the definition. */
export function insertStep(definition: Definition, place: Place, step: Step): Definition {
  return insertSteps(definition, place, [step])
}

/** Puts steps at a place. Throws RangeError when the place is in no list of the definition. */
export function insertSteps(
  definition: Definition,
  place: Place,
  added: readonly Step[],
): Definition {
  let found = false
  const steps = mapLists(definition.steps, null, (list, ref) => {
    if (!sameList(ref, place.list)) return list
    found = true
    return [...list.slice(0, place.index), ...added, ...list.slice(place.index)]
  })
  if (!found) throw new RangeError('There is no such place in the workflow')
  return { ...definition, steps }
}

/** Takes a step out; a split goes with all that is inside it. The definition itself where there is none. */
export function removeStep(definition: Definition, key: string): Definition {
  const steps = mapLists(definition.steps, null, (list) =>
    list.some((step) => step.key === key) ? list.filter((step) => step.key !== key) : list,
  )
  return withSteps(definition, steps)
}

/** Where a step stands; null for a key that is no step's. */
export function placeOf(definition: Definition, key: string): Place | null {
  let place: Place | null = null
  mapLists(definition.steps, null, (list, ref) => {
    const index = list.findIndex((step) => step.key === key)
    if (index !== -1) place = { list: ref, index }
    return list
  })
  return place
}

/**
 * Moves a step, with all that is inside it, to a place that is named as the definition stands now.
 * Returns the definition itself when that changes nothing or the place lies inside the step. Throws
 * RangeError when there is no such step or place.
 */
export function moveStep(definition: Definition, key: string, to: Place): Definition {
  const from = placeOf(definition, key)
  const step = allSteps(definition.steps).find((one) => one.key === key)
  if (!from || !step) throw new RangeError(`There is no step ${key}`)
  const inside = isBranching(step) && to.list !== null && branchingsIn(step).has(to.list.branching)
  const isSame = sameList(from.list, to.list)
  if (inside || (isSame && (to.index === from.index || to.index === from.index + 1))) {
    return definition
  }
  // Once it is out, what stood behind it in the same list has moved up.
  const index = isSame && to.index > from.index ? to.index - 1 : to.index
  return insertStep(removeStep(definition, key), { list: to.list, index }, step)
}

const branchingsIn = (step: Step): Set<string> =>
  new Set(allSteps([step]).flatMap((one) => (isBranching(one) ? [one.key] : [])))

/** Replaces a step by what `change` makes of it. The definition itself where that changes nothing. */
export function updateStep(
  definition: Definition,
  key: string,
  change: (step: Step) => Step,
): Definition {
  const steps = mapLists(definition.steps, null, (list) =>
    mapSteps(list, (step) => (step.key === key ? change(step) : step)),
  )
  return withSteps(definition, steps)
}

/** Replaces a branch of a split by what `change` makes of it. */
export function updateBranch(
  definition: Definition,
  splitKey: string,
  branchKey: string,
  change: (branch: SplitBranch) => SplitBranch,
): Definition {
  return updateStep(definition, splitKey, (step) =>
    step.kind === 'split'
      ? {
          ...step,
          branches: step.branches.map((one) => (one.key === branchKey ? change(one) : one)),
        }
      : step,
  )
}

/** Adds a branch after the others, before "everyone else". */
export function addBranch(
  definition: Definition,
  splitKey: string,
  branch: SplitBranch,
): Definition {
  return updateStep(definition, splitKey, (step) =>
    step.kind === 'split' ? { ...step, branches: [...step.branches, branch] } : step,
  )
}

/** Takes a branch out with its steps. The last one stays: a split has at least one. */
export function removeBranch(
  definition: Definition,
  splitKey: string,
  branchKey: string,
): Definition {
  return updateStep(definition, splitKey, (step) =>
    step.kind === 'split' && step.branches.length > 1
      ? { ...step, branches: step.branches.filter(({ key }) => key !== branchKey) }
      : step,
  )
}

/** Moves a branch up (-1) or down (+1) among its neighbours, which changes who matches first. */
export function moveBranch(
  definition: Definition,
  splitKey: string,
  branchKey: string,
  by: -1 | 1,
): Definition {
  return updateStep(definition, splitKey, (step) => {
    if (step.kind !== 'split') return step
    const from = step.branches.findIndex(({ key }) => key === branchKey)
    const branch = step.branches[from]
    const other = step.branches[from + by]
    if (!branch || !other) return step
    const branches = step.branches.with(from, other).with(from + by, branch)
    return { ...step, branches }
  })
}

/** Replaces an arm of an experiment by what `change` makes of it. */
export function updateArm(
  definition: Definition,
  experimentKey: string,
  armKey: string,
  change: (arm: Arm) => Arm,
): Definition {
  return updateStep(definition, experimentKey, (step) =>
    step.kind === 'experiment'
      ? { ...step, arms: step.arms.map((one) => (one.key === armKey ? change(one) : one)) }
      : step,
  )
}

/** Adds an arm after the others. */
export function addArm(definition: Definition, experimentKey: string, arm: Arm): Definition {
  return updateStep(definition, experimentKey, (step) =>
    step.kind === 'experiment' ? { ...step, arms: [...step.arms, arm] } : step,
  )
}

/** Takes an arm out with its steps. Two stay: people can only part into at least two. */
export function removeArm(
  definition: Definition,
  experimentKey: string,
  armKey: string,
): Definition {
  return updateStep(definition, experimentKey, (step) =>
    step.kind === 'experiment' && step.arms.length > 2
      ? { ...step, arms: step.arms.filter(({ key }) => key !== armKey) }
      : step,
  )
}

/**
 * Puts what an arm gets in the place of its experiment: everybody takes it from then on. The definition itself
 * where there is no such arm.
 */
export function takeArm(definition: Definition, experimentKey: string, armKey: string): Definition {
  const steps = mapLists(definition.steps, null, (list) => {
    const index = list.findIndex(({ key }) => key === experimentKey)
    const step = list[index]
    const arm = step?.kind === 'experiment' && step.arms.find(({ key }) => key === armKey)
    return arm ? [...list.slice(0, index), ...arm.steps, ...list.slice(index + 1)] : list
  })
  return withSteps(definition, steps)
}

const sameList = (a: ListRef, b: ListRef): boolean =>
  a === b || (a !== null && b !== null && a.branching === b.branching && a.branch === b.branch)

/**
 * Changes every list of steps, the inner ones first. Lists and steps in which nothing changes stay the
 * same objects: a draft has all but a few in common with what it was before.
 */
function mapLists(
  list: Step[],
  ref: ListRef,
  change: (list: Step[], ref: ListRef) => Step[],
): Step[] {
  const inner = mapSteps(list, (step) =>
    isBranching(step)
      ? withLists(step, (steps, branch) => mapLists(steps, { branching: step.key, branch }, change))
      : step,
  )
  return change(inner, ref)
}

function mapSteps(list: Step[], change: (step: Step) => Step): Step[] {
  const changed = list.map(change)
  return changed.every((step, index) => step === list[index]) ? list : changed
}

const withSteps = (definition: Definition, steps: Step[]): Definition =>
  steps === definition.steps ? definition : { ...definition, steps }
