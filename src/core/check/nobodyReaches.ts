import type { Reachable } from '../rehearsal/examples.ts'
import type { Definition } from '../workflow/definition.ts'
import { reachFindings } from './flow/reachFindings.ts'
import { arePossible } from './reasoning/possible.ts'

/**
 * Why nobody at all can take a path or be held back by an exclusion, in a sentence: the check's own reasoning, and so a
 * proof. Null where it knows of nothing that stands against it.
 */
export function nobodyReaches(definition: Definition, target: Reachable): string | null {
  if (target.kind === 'exclusion') {
    const exclusion = definition.exclusions.find(({ key }) => key === target.key)
    const isPossible = !exclusion || arePossible([{ condition: exclusion.when, holds: true }], definition.trigger) // prettier-ignore
    return isPossible ? null : 'Its condition contradicts itself.'
  }
  const finding = reachFindings(definition).find(
    ({ place }) =>
      place.kind === 'trigger' ||
      (place.kind === 'branch' &&
        place.branching === target.step &&
        (place.branch ?? null) === target.branch),
  )
  return finding?.title ?? null
}
