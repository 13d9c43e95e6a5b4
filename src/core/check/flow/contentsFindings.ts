import { entityOf } from '../../events/eventTypes.ts'
import { withContentsPath } from '../../workflow/contentsPath.ts'
import type { Definition } from '../../workflow/definition.ts'
import type { SplitBranch, SplitStep } from '../../workflow/steps.ts'
import type { EventTrigger } from '../../workflow/trigger.ts'
import { advises, type Finding } from '../finding.ts'
import { reachedSteps } from './ways.ts'

/** Categories that were ordered together, and how many such orders take each path of a split. */
export interface OrderedTogether {
  categories: readonly string[]
  orders: number
  /** By the place of the path; the last are those of everyone else. */
  paths: readonly number[]
}

/** A split by what was ordered, which everybody comes to, and what starts its workflow. */
export interface ContentsSplit {
  split: SplitStep
  trigger: EventTrigger
}

/** The splits whose paths ask for different categories, and that all who enter come to. */
export function contentsSplits(definition: Definition): ContentsSplit[] {
  const { trigger } = definition
  if (trigger.kind !== 'event' || entityOf(trigger.event) !== 'order') return []
  return reachedSteps(definition).flatMap(({ step, path }) =>
    step.kind === 'split' && path.length === 0 && step.branches.filter(isByContents).length > 1
      ? [{ split: step, trigger }]
      : [],
  )
}

const isByContents = ({ when }: SplitBranch): boolean =>
  when.kind === 'field' &&
  when.field === 'order.categories' &&
  (when.op === 'hasAny' || when.op === 'hasAll')

/** Fewer are not worth a path of their own. */
const WORTH_ORDERS = 20
const WORTH_SHARE = 0.1

/**
 * Paths that take many who bought of another path's category as well, which they then hear nothing
 * of: one finding a path, for what is ordered together most.
 */
export function contentsFindings(split: SplitStep, ordered: readonly OrderedTogether[]): Finding[] {
  return split.branches.flatMap((branch, index): Finding[] => {
    const takes = ordered.map(({ paths }) => paths[index] ?? 0)
    const all = takes.reduce((sum, orders) => sum + orders, 0)
    const most = mostMissed(split.branches.slice(index), ordered, takes)
    if (!most || most.orders < WORTH_ORDERS || most.orders < WORTH_SHARE * all) return []
    const { categories, missed, orders } = most
    const place = { kind: 'branch', branching: split.key, branch: branch.key } as const
    const title = `The path “${branch.name}” also takes those who bought of ${missed.join(' and ')}: ${orders} of ${all} in a year.`
    const detail = 'They get nothing of the other path. One for both can stand above the two.'
    const mend = (before: Definition) => withContentsPath(before, split.key, categories).definition
    const finding = advises('contents-missed', place, title, detail)
    return [{ ...finding, repair: { label: 'Make a path for both', mend } }]
  })
}

interface Missed {
  /** All that the paths ask for, of what was ordered together. */
  categories: string[]
  /** What of it the path that is taken does not ask for. */
  missed: string[]
  orders: number
}

/** What the first of some paths takes most often of what those behind it ask for. */
function mostMissed(
  [taken, ...behind]: readonly SplitBranch[],
  ordered: readonly OrderedTogether[],
  takes: readonly number[],
): Missed | undefined {
  const found = new Map<string, Missed>()
  for (const [index, { categories }] of ordered.entries()) {
    const own = taken ? askedOf(taken, categories) : []
    const others = behind.flatMap((branch) => askedOf(branch, categories))
    const missed = [...new Set(others)].filter((name) => !own.includes(name)).toSorted()
    if (own.length === 0 || missed.length === 0) continue
    const both = [...own, ...missed].toSorted()
    const key = JSON.stringify(both)
    const before = found.get(key)?.orders ?? 0
    found.set(key, { categories: both, missed, orders: before + (takes[index] ?? 0) })
  }
  return [...found.values()].toSorted((a, b) => b.orders - a.orders)[0]
}

/** What of some categories a path asks for; nothing where it does not fit, or asks something else. */
function askedOf(branch: SplitBranch, categories: readonly string[]): string[] {
  const { when } = branch
  if (!isByContents(branch) || when.kind !== 'field' || !Array.isArray(when.value)) return []
  const asked = when.value.map(String)
  const there = asked.filter((name) => categories.includes(name))
  return when.op === 'hasAll' && there.length < asked.length ? [] : there
}
