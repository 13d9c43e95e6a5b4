import { remembered } from '../shared/remembered.ts'
import { isBranching, type BranchingStep, type Step } from './steps.ts'

/** Names a list of steps in a definition: the outermost one, or one inside a branching step. */
export type ListRef = { branching: string; branch: string | null } | null

/** A place where a step can go: before the step at `index` of a list. */
export interface Place {
  list: ListRef
  index: number
}

/** A list inside a branching step: by the key of its branch or arm; the last way has none. */
export interface InnerList {
  branch: string | null
  /** As it was named; null for a way that is called by what it is. */
  name: string | null
  steps: Step[]
  /** A holdout's list stays empty. */
  holdout?: boolean | undefined
}

/** What the way of those whom an awaited event came to goes by. */
export const CAME = 'came'

/** The lists inside a branching step, in reading order. Steps are never changed in place. */
export const listsOf = remembered((step: BranchingStep): readonly InnerList[] => {
  switch (step.kind) {
    case 'split':
      return [
        ...step.branches.map(({ key, name, steps }) => ({ branch: key, name, steps })),
        { branch: null, name: null, steps: step.otherwise },
      ]
    case 'experiment':
      return step.arms.map(({ key, name, steps, holdout }) => ({
        branch: key,
        name,
        steps,
        holdout,
      }))
    case 'waitFor':
      return [
        { branch: CAME, name: null, steps: step.came },
        { branch: null, name: null, steps: step.otherwise },
      ]
  }
})

/**
 * The step with each of its lists replaced by what `change` makes of it. What is not changed stays the
 * same object, the step as well: whatever is known of it need not be found out anew.
 */
export function withLists(
  step: BranchingStep,
  change: (steps: Step[], branch: string | null) => Step[],
): BranchingStep {
  const lists = listsOf(step)
  const changed = lists.map(({ steps, branch }) => change(steps, branch))
  const listAt = (index: number) => changed.at(index) ?? []
  if (changed.every((steps, index) => steps === lists[index]?.steps)) return step
  const inside = <Way extends { steps: Step[] }>(way: Way, index: number): Way =>
    way.steps === listAt(index) ? way : { ...way, steps: listAt(index) }
  switch (step.kind) {
    case 'split':
      return { ...step, branches: step.branches.map(inside), otherwise: listAt(-1) }
    case 'experiment':
      return { ...step, arms: step.arms.map(inside) }
    case 'waitFor':
      return { ...step, came: listAt(0), otherwise: listAt(1) }
  }
}

/** How many branching steps lie inside each other at most. */
export function branchingLevels(steps: readonly Step[]): number {
  return steps.reduce(
    (most, step) =>
      isBranching(step)
        ? Math.max(most, 1 + Math.max(...listsOf(step).map((list) => branchingLevels(list.steps))))
        : most,
    0,
  )
}

/** Every step of a list and of the lists inside it, in reading order. */
export const allSteps = remembered((steps: readonly Step[]): readonly Step[] =>
  steps.flatMap((step): readonly Step[] =>
    isBranching(step) ? [step, ...listsOf(step).flatMap((list) => allSteps(list.steps))] : [step],
  ),
)

/** Every key of a list of steps, branches and arms included, in reading order. */
export function stepKeys(steps: readonly Step[]): string[] {
  return steps.flatMap((step) => {
    if (!isBranching(step)) return [step.key]
    const inner = listsOf(step).flatMap(({ branch, steps: list }) => [
      // The two ways of a wait for an event have fixed names, not keys of their own.
      ...(branch === null || step.kind === 'waitFor' ? [] : [branch]),
      ...stepKeys(list),
    ])
    return [step.key, ...inner]
  })
}
