import type { Difference } from '../rehearsal/differ.ts'
import type { SubjectChange } from '../rehearsal/subjectChanges.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { HAPPENING_WORDS } from './rehearsalWords.ts'
import { plural } from './quantities.ts'

/** "with consent to marketing by email": one thing that would have to be otherwise, after "they would have got it". */
export function changeWords(change: SubjectChange, definition: Definition): string {
  switch (change.what) {
    case 'consent':
      return `${change.given ? 'with' : 'without'} consent to marketing by ${change.channel === 'email' ? 'email' : 'text message'}`
    case 'email':
      return 'with an email address'
    case 'phone':
      return change.has ? 'with a phone number' : 'without a phone number'
    case 'country':
      return `from the country ${change.country}`
    case 'tag':
      return `${change.has ? 'with' : 'without'} the tag “${change.tag}”`
    case 'without':
      return `without “${HAPPENING_WORDS[change.happening.what]}” ${afterWords(change.happening.afterMinutes)}`
    case 'with':
      return `with “${HAPPENING_WORDS[change.happening.what]}${change.happening.stars === undefined ? '' : `, ${plural(change.happening.stars, 'star')}`}” ${afterWords(change.happening.afterMinutes)}`
    case 'earlier':
      return change.orders === 0
        ? 'without earlier orders'
        : `with ${plural(change.orders, 'earlier order')}`
    case 'ordered':
      return `with ${change.line.title} in the place of what they ordered`
    case 'amount':
      return `with ${change.times} times as much of each`
    case 'stars':
      return `with ${plural(change.stars, 'star')}`
    case 'date':
      return `with the date ${plural(change.days, 'day')} after the beginning`
    case 'arm':
      return `in arm “${armName(change, definition)}”`
    default:
      return assertNever(change, 'change')
  }
}

function armName({ step, arm }: { step: string; arm: string }, definition: Definition): string {
  const found = allSteps(definition.steps).find(({ key }) => key === step)
  if (found?.kind !== 'experiment') return arm
  return found.arms.find(({ key }) => key === arm)?.name || arm
}

function afterWords(minutes: number): string {
  if (!Number.isInteger(minutes)) {
    return `${plural(Math.round(minutes * 60), 'second')} after the beginning`
  }
  if (minutes < 60) return `${plural(minutes, 'minute')} after the beginning`
  if (minutes < 48 * 60) return `${plural(Math.round(minutes / 60), 'hour')} after the beginning`
  return `${plural(Math.round(minutes / 1440), 'day')} after the beginning`
}

/** What the changes are for, before they are listed. */
export function differenceWords({ isSent, alone, pairs, tried }: Difference): string {
  const turned = isSent ? 'They would not get it' : 'They would get it'
  if (alone.length > 0) return `${turned} with any one of these, all else as it is:`
  if (pairs.length > 0) return `No single thing turns it. ${turned} with both:`
  return `Nothing that was tried turns it, of ${plural(tried, 'way')} in which they could differ, one by one and two by two.`
}
