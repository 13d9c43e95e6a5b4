import type { Condition, LinesCondition, TestCondition } from '../../conditions/condition.ts'

/** A single test that holds, or does not. */
export interface Literal {
  test: TestCondition
  holds: boolean
}

/** Tests that are all as they say: one way in which a condition can come to hold. */
export type Case = readonly Literal[]

/** More ways than this are not gone through; nothing is claimed of such a condition. */
const MOST_CASES = 400

/**
 * The ways in which a condition can come to hold (`holds`), or not to: its disjunctive normal form.
 * Null when there are too many.
 */
export function casesOf(condition: Condition, holds = true): Case[] | null {
  switch (condition.kind) {
    case 'not':
      return casesOf(condition.of, !holds)
    case 'segment':
      return casesOf(condition.of, holds)
    case 'all':
      return holds ? together(condition.of, holds) : eitherOf(condition.of, holds)
    case 'any':
      return holds ? eitherOf(condition.of, holds) : together(condition.of, holds)
    case 'lines':
      return [[linesLiteral(condition, holds)]]
    case 'field':
    case 'history':
    case 'messages':
    case 'workflows':
      return [[{ test: condition, holds }]]
  }
}

/** "Contains none of" is the opposite of "contains". */
function linesLiteral(test: LinesCondition, holds: boolean): Literal {
  if (test.how === 'none') return { test: { ...test, how: 'some' }, holds: !holds }
  return { test, holds }
}

function eitherOf(parts: readonly Condition[], holds: boolean): Case[] | null {
  const all: Case[] = []
  for (const part of parts) {
    const cases = casesOf(part, holds)
    if (!cases) return null
    all.push(...cases)
  }
  return all.length > MOST_CASES ? null : all
}

function together(parts: readonly Condition[], holds: boolean): Case[] | null {
  let all: Case[] | null = [[]]
  for (const part of parts) {
    const cases = casesOf(part, holds)
    all = cases && combined(all, cases)
    if (!all) return null
  }
  return all
}

/** Every case of one with every case of the other. Null when there are too many. */
export function combined(a: readonly Case[], b: readonly Case[]): Case[] | null {
  if (a.length * b.length > MOST_CASES) return null
  return a.flatMap((one) => b.map((other) => [...one, ...other]))
}
