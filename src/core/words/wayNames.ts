import { EVENT_TYPES } from '../events/eventTypes.ts'
import { CAME, type InnerList } from '../workflow/lists.ts'
import type { ForkStep } from '../workflow/steps.ts'
import { capitalized, shortDuration } from './quantities.ts'

/** What a way of a step that forks is called: as it was named, or by what it is. */
export function wayName(fork: ForkStep, { branch, name }: InnerList): string {
  if (name !== null) return name
  if (fork.kind !== 'waitFor') return 'Everyone else'
  return branch === CAME
    ? capitalized(EVENT_TYPES[fork.event].label)
    : `Not in ${shortDuration(fork.limit)}`
}
