import { CAME, type InnerList } from '../workflow/lists.ts'
import type { BranchingStep } from '../workflow/steps.ts'
import { capitalized, shortDuration } from './quantities.ts'
import { EVENT_WORDS } from './eventWords.ts'

/** What a way of a branching step is called: as it was named, or by what it is. */
export function wayName(branching: BranchingStep, { branch, name }: InnerList): string {
  if (name !== null) return name
  if (branching.kind !== 'waitFor') return 'Everyone else'
  return branch === CAME
    ? capitalized(EVENT_WORDS[branching.event].label)
    : `Not in ${shortDuration(branching.limit)}`
}
