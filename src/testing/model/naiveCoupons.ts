import type { MessageStep, Step } from '../../core/workflow/steps.ts'

/** A message of the model that prints a coupon's code. */
export const isShown = (step: MessageStep): boolean => step.body.includes('coupon.code')

function listsIn(step: Step): Step[][] {
  if (step.kind === 'split') return [...step.branches.map(({ steps }) => steps), step.otherwise]
  if (step.kind === 'experiment') return step.arms.map(({ steps }) => steps)
  return step.kind === 'waitFor' ? [step.came, step.otherwise] : []
}

/** Tries every way on from a coupon step to see whether a message that shows the code can come. */
export function isShownAfter(all: readonly Step[], key: string): boolean {
  let isBehind = false
  const closes = (steps: readonly Step[]): 'shown' | 'closed' | 'open' => {
    for (const step of steps) {
      if (isBehind && step.kind === 'email' && isShown(step)) return 'shown'
      if (isBehind && step.kind === 'end') return 'closed'
      const inner = listsIn(step)
      if (inner.length === 0) {
        if (step.key === key) isBehind = true
        continue
      }
      const wasBehind = isBehind
      const outcomes = inner.map((list) => {
        const before = isBehind
        const outcome = closes(list)
        const found = isBehind && !before
        isBehind = wasBehind
        return { outcome, found }
      })
      if (outcomes.some(({ outcome }) => outcome === 'shown')) return 'shown'
      const own = outcomes.find(({ found }) => found)
      if (own) {
        if (own.outcome === 'closed') return 'closed'
        isBehind = true
      } else if (wasBehind && outcomes.every(({ outcome }) => outcome === 'closed')) {
        return 'closed'
      }
    }
    return 'open'
  }
  return closes(all) === 'shown'
}
