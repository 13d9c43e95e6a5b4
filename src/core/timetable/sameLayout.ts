import { sameDocument } from '../shared/sameDocument.ts'
import { listsOf } from '../workflow/lists.ts'
import { isBranching, isMessage, type BranchingStep, type Step } from '../workflow/steps.ts'

/**
 * True when two lists of steps are certain to be laid out alike, so that a letter typed into a
 * message moves nothing. Asks only for what the layout depends on, and not at all about what two
 * states of a draft share.
 */
export function sameLayout(before: readonly Step[], after: readonly Step[]): boolean {
  if (before === after) return true
  if (before.length !== after.length) return false
  return after.every((step, index) => {
    const was = before[index]
    return was !== undefined && sameStep(was, step)
  })
}

function sameStep(before: Step, after: Step): boolean {
  if (before === after) return true
  if (before.key !== after.key || before.kind !== after.kind) return false
  if (isMessage(after)) return true
  if (isBranching(before) && isBranching(after)) return sameBranching(before, after)
  return sameDocument(before, after)
}

function sameBranching(before: BranchingStep, after: BranchingStep): boolean {
  if (before.kind === 'waitFor' && after.kind === 'waitFor') {
    if (before.limit !== after.limit || before.event !== after.event) return false
  }
  const old = listsOf(before)
  const now = listsOf(after)
  if (old.length !== now.length) return false
  return now.every(({ branch, name, holdout, steps }, index) => {
    const was = old[index]
    return (
      was?.branch === branch &&
      was.name === name &&
      was.holdout === holdout &&
      sameLayout(was.steps, steps)
    )
  })
}
