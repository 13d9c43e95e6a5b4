import { allSteps, withLists } from './lists.ts'
import { isFork, type Step } from './steps.ts'

/** The draws that experiments among some steps go by. */
export const drawsIn = (steps: readonly Step[]): string[] =>
  allSteps(steps).flatMap((step) => (step.kind === 'experiment' ? [step.draw] : []))

/**
 * Gives the experiments among some steps draws of their own where theirs are taken: a copy that drew like
 * the original would put the same people into the same arms, and neither could be judged by itself. Those
 * that shared one go on to share one.
 */
export function withOwnDraws(
  steps: readonly Step[],
  isTaken: (draw: string) => boolean,
  newDraw: () => string,
): Step[] {
  const own = new Map<string, string>()
  for (const draw of drawsIn(steps)) {
    if (isTaken(draw) && !own.has(draw)) own.set(draw, newDraw())
  }
  return redrawn(steps, own)
}

function redrawn(steps: readonly Step[], own: ReadonlyMap<string, string>): Step[] {
  return steps.map((step) => {
    if (!isFork(step)) return step
    const inner = withLists(step, (list) => redrawn(list, own))
    const draw = inner.kind === 'experiment' ? own.get(inner.draw) : undefined
    return draw === undefined ? inner : { ...inner, draw }
  }) as Step[]
}
