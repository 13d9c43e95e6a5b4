import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import type { WaitStep } from '../workflow/steps.ts'
import { shortDuration } from './quantities.ts'

/** The name of a step, for sentences; its key where the version has none. */
export function stepName(definition: Definition, key: string): string {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  return step && 'name' in step && step.name !== '' ? step.name : key
}

/** What a step marks a customer with, in words; its key where the version has no such step. */
export function markWords(definition: Definition, key: string): string {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  switch (step?.kind) {
    case 'tag':
      return step.change === 'add' ? `Added the tag “${step.tag}”` : `Removed the tag “${step.tag}”`
    case 'list':
      return step.change === 'add'
        ? `Added to the list “${step.list}”`
        : `Removed from the list “${step.list}”`
    case 'property':
      return `Set ${step.property} to “${step.value}”`
    default:
      return key
  }
}

/** A wait in as few characters as a pill on the timetable has room for. */
export function shortWait({ for: duration, at, weekdays }: WaitStep): string {
  if (at === undefined) return shortDuration(duration)
  const days = weekdays && weekdays.length < 7 ? ` ${weekdays.length} d/wk` : ''
  const span = shortDuration(duration)
  return span === '0' ? `${at}${days}` : `${span}, ${at}${days}`
}
