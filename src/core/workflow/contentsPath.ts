import type { Condition } from '../conditions/condition.ts'
import type { Definition } from './definition.ts'
import { freshKey, updateStep } from './edit.ts'
import { allSteps } from './lists.ts'
import type { SplitBranch } from './steps.ts'

/** A name's length, as the document schema has it. */
const LONGEST_NAME = 120

/**
 * Gives a split a path for orders with something of each of these categories, above all paths that
 * would take them first and below those that ask for more. Where there is such a path, nothing changes.
 * Returns the key of the path as well. Throws RangeError when there is no such split.
 */
export function withContentsPath(
  definition: Definition,
  splitKey: string,
  categories: readonly string[],
): { definition: Definition; branch: string } {
  const split = allSteps(definition.steps).find(({ key }) => key === splitKey)
  if (split?.kind !== 'split') throw new RangeError(`There is no split “${splitKey}”`)
  const { branches } = split
  const asksForMore = (branch: SplitBranch) => {
    const asked = askedOf(branch)
    return asked !== null && categories.every((name) => asked.includes(name))
  }
  const same = branches.find(
    (branch) => asksForMore(branch) && askedOf(branch)?.length === categories.length,
  )
  if (same) return { definition, branch: same.key }
  const branch: SplitBranch = {
    key: freshKey(definition, 'branch'),
    name: nameOf(categories),
    when: hasAll(categories),
    steps: [],
  }
  const index = branches.findLastIndex(asksForMore) + 1
  return {
    definition: updateStep(definition, splitKey, (step) =>
      step.kind === 'split' ? { ...step, branches: branches.toSpliced(index, 0, branch) } : step,
    ),
    branch: branch.key,
  }
}

const hasAll = (categories: readonly string[]): Condition => ({
  kind: 'field',
  field: 'order.categories',
  op: 'hasAll',
  value: [...categories],
})

/** The categories that a path asks for something of each of; null where it asks something else. */
function askedOf({ when }: SplitBranch): readonly string[] | null {
  if (when.kind !== 'field' || when.field !== 'order.categories') return null
  const asked = Array.isArray(when.value) ? when.value.map(String) : []
  // Any of one is all of one.
  return when.op === 'hasAll' || (when.op === 'hasAny' && asked.length === 1) ? asked : null
}

/** All of them, or as many as a name has room for and how many there are besides. */
function nameOf(categories: readonly string[]): string {
  for (let named = categories.length; named > 1; named -= 1) {
    const others = categories.length - named
    const name = categories.slice(0, named).join(' and ')
    const whole = others === 0 ? name : `${name} and ${others} more`
    if (whole.length <= LONGEST_NAME) return whole
  }
  return (categories[0] ?? '').slice(0, LONGEST_NAME)
}
