import { allSteps, withLists } from './lists.ts'
import { isBranching, type Step } from './steps.ts'

/** The lotteries that experiments among some steps go by. */
export const lotteriesIn = (steps: readonly Step[]): string[] =>
  allSteps(steps).flatMap((step) => (step.kind === 'experiment' ? [step.lottery] : []))

/**
 * Gives the experiments among some steps lotteries of their own where theirs are taken: a copy that drew like
 * the original would put the same people into the same arms, and neither could be judged by itself. Those
 * that shared one go on to share one.
 */
export function withOwnLotteries(
  steps: readonly Step[],
  isTaken: (lottery: string) => boolean,
  newLottery: () => string,
): Step[] {
  const own = new Map<string, string>()
  for (const lottery of lotteriesIn(steps)) {
    if (isTaken(lottery) && !own.has(lottery)) own.set(lottery, newLottery())
  }
  return withLotteriesOf(steps, own)
}

function withLotteriesOf(steps: readonly Step[], own: ReadonlyMap<string, string>): Step[] {
  return steps.map((step) => {
    if (!isBranching(step)) return step
    const inner = withLists(step, (list) => withLotteriesOf(list, own))
    const lottery = inner.kind === 'experiment' ? own.get(inner.lottery) : undefined
    return lottery === undefined ? inner : { ...inner, lottery }
  }) as Step[]
}
