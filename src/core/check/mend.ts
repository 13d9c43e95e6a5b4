import { insertStep, freshKey, placeOf, updateStep } from '../workflow/edit.ts'
import type { Repair } from './finding.ts'
import { isMessage, type MessageStep } from '../workflow/steps.ts'

type Mend = Repair['mend']

/** Nobody goes through it a second time. */
export const ENTER_ONCE: Repair = {
  label: 'Everyone enters once',
  mend: (before) => ({ ...before, entry: { rule: { kind: 'once' }, overlap: 'one' } }),
}

/** A repair that changes a message; nothing where it is gone by then. */
export const changingMessage =
  (key: string, change: (message: MessageStep) => MessageStep): Mend =>
  (definition) =>
    updateStep(definition, key, (step) => (isMessage(step) ? change(step) : step))

/** A repair that puts a wait before a step; nothing where that is gone by then. */
export const waitingBefore =
  (key: string, duration: string): Mend =>
  (definition) => {
    const place = placeOf(definition, key)
    if (!place) return definition
    const wait = { key: freshKey(definition, 'wait'), kind: 'wait', for: duration } as const
    return insertStep(definition, place, wait)
  }
