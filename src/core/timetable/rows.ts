import { remembered } from '../shared/remembered.ts'
import { listsOf } from '../workflow/lists.ts'
import { isBranching, type BranchingStep, type Step } from '../workflow/steps.ts'

/** Rows side by side: from `from` up to before `to`. */
export interface Band {
  from: number
  to: number
}

/** How the rows of a branching step are shared out over its ways. */
export interface Shares {
  bands: Band[]
  /** The rows on which those travel who go on after the branching step; null if nobody does. */
  goesOn: Band | null
}

const sizeOf = (band: Band | null): number => (band ? band.to - band.from : 0)

/** For each step of a list how many rows it and those behind it need, and 1 for what follows. */
export const rowsNeeded = remembered((steps: readonly Step[]): readonly number[] => {
  let rest = 1
  const needs = [rest]
  for (const step of steps.toReversed()) {
    if (isBranching(step)) rest = rowsOfBranching(step, rest)
    needs.push(rest)
  }
  return needs.toReversed()
})

/** How many rows a list needs. */
export function heightOf(steps: readonly Step[]): number {
  return rowsNeeded(steps)[0] ?? 1
}

/**
 * Shares `size` rows out over the ways of a branching step; what follows it needs `rest` of them. What comes
 * after a branching step stands only on rows of ways that lead to it, so that a path which has ended, or is
 * still on its way to an end, has its row to itself.
 */
export function sharesOf(branching: BranchingStep, size: number, rest: number): Shares {
  const known = sharedOut(branching)
  const key = `${size} ${rest}`
  const shares = known.get(key) ?? shareOut(branching, size, rest)
  known.set(key, shares)
  return shares
}

// A draft has most of its branching steps in common with what it was before, and deep ones are asked often.
const sharedOut = remembered((_branching: BranchingStep) => new Map<string, Shares>())
const neededBy = remembered((_branching: BranchingStep) => new Map<number, number>())

function shareOut(branching: BranchingStep, size: number, rest: number): Shares {
  const lists = listsOf(branching).map(({ steps }) => steps)
  const heights = lists.map(heightOf)
  const run = widestRun(goingOn(lists, heights))
  // Rows that no way needs by itself go to the last of those that go on together.
  const grows = run?.last ?? lists.length - 1
  const spare = size - heights.reduce((sum, height) => sum + height, 0)
  heights[grows] = (heights[grows] ?? 0) + Math.max(0, spare)
  const goesOn = widestRun(goingOn(lists, heights))?.band ?? null
  // Nobody goes on, but there is more: it is drawn over all rows, so that it can be seen.
  const isDrawn = goesOn === null || sizeOf(goesOn) >= rest
  if (!isDrawn) throw new RangeError(`What follows ${branching.key} has no rows`)
  return { bands: stacked(heights), goesOn }
}

function rowsOfBranching(branching: BranchingStep, rest: number): number {
  const known = neededBy(branching)
  const rows = known.get(rest) ?? countRows(branching, rest)
  known.set(rest, rows)
  return rows
}

function countRows(branching: BranchingStep, rest: number): number {
  const lists = listsOf(branching).map(({ steps }) => steps)
  const heights = lists.map(heightOf)
  const sum = heights.reduce((all, height) => all + height, 0)
  const run = widestRun(goingOn(lists, heights))
  if (!run) return Math.max(sum, rest)
  return sum + Math.max(0, rest - sizeOf(run.band))
}

/** Where each way goes on, counted from the first row of the branching step. */
function goingOn(lists: readonly (readonly Step[])[], heights: readonly number[]): (Band | null)[] {
  return stacked(heights).map(({ from, to }, index) => {
    const inner = goesOnAfter(lists[index] ?? [], to - from)
    return inner && { from: from + inner.from, to: from + inner.to }
  })
}

/** On which of its rows those go on who come to the end of a list. */
function goesOnAfter(steps: readonly Step[], size: number): Band | null {
  const needs = rowsNeeded(steps)
  let band: Band = { from: 0, to: size }
  for (const [index, step] of steps.entries()) {
    if (step.kind === 'end') return null
    if (!isBranching(step)) continue
    const { goesOn } = sharesOf(step, sizeOf(band), needs[index + 1] ?? 1)
    if (!goesOn) return null
    band = { from: band.from + goesOn.from, to: band.from + goesOn.to }
  }
  return band
}

function stacked(heights: readonly number[]): Band[] {
  let from = 0
  return heights.map((height) => {
    from += height
    return { from: from - height, to: from }
  })
}

/** The most rows side by side on which ways go on, and the last of those ways. */
function widestRun(bands: readonly (Band | null)[]): { band: Band; last: number } | null {
  let widest: { band: Band; last: number } | null = null
  let run = null as Band | null
  for (const [last, band] of bands.entries()) {
    if (!band) continue
    run = run?.to === band.from ? { from: run.from, to: band.to } : band
    if (sizeOf(run) > sizeOf(widest?.band ?? null)) widest = { band: run, last }
  }
  return widest
}
