import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { isMark, type MarkStep } from '../workflow/marks.ts'
import type { StepKind, WaitStep } from '../workflow/steps.ts'
import { dayLater, shortDuration, weekdaysWords } from './quantities.ts'

/** What a step is, where it has no name. */
export const STEP_WORDS: Readonly<Record<StepKind, string>> = {
  wait: 'a wait',
  until: 'a wait until a date',
  waitFor: 'a wait for an event',
  split: 'a split',
  experiment: 'an experiment',
  email: 'an email',
  sms: 'a text message',
  note: 'a staff note',
  coupon: 'a coupon',
  tag: 'a tag',
  list: 'a list',
  property: 'a property',
  hook: 'a hook',
  end: 'the end',
}

/** The name of a step, for sentences; its key where the version has none. */
export function stepName(definition: Definition, key: string): string {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  return step && 'name' in step && step.name !== '' ? step.name : key
}

/** What a step marks a customer with, in words; its key where the version has no such step. */
export function markWords(definition: Definition, key: string): string {
  const step = allSteps(definition.steps).find((one) => one.key === key)
  return step && isMark(step) ? wordsOfMark(step) : key
}

function wordsOfMark(step: MarkStep): string {
  switch (step.kind) {
    case 'tag':
      return step.change === 'add' ? `Added the tag “${step.tag}”` : `Removed the tag “${step.tag}”`
    case 'list':
      return step.change === 'add'
        ? `Added to the list “${step.list}”`
        : `Removed from the list “${step.list}”`
    case 'property':
      return `Set ${step.property} to “${step.value}”`
  }
}

/** A wait in as few characters as a pill on the timetable has room for; its column names the weekdays. */
export function shortWait({ for: duration, at, onDay }: WaitStep): string {
  const span = onDay ? dayLater(duration) : shortDuration(duration)
  return [span, at].filter((part) => part !== undefined && part !== '0').join(', ') || '0'
}

/** The same with the weekdays that it goes on at. */
export function shortWaitOnDays(step: WaitStep): string {
  const days = step.at === undefined ? '' : weekdaysWords(step.weekdays ?? [])
  return days === '' ? shortWait(step) : `${shortWait(step)} ${days}`
}
