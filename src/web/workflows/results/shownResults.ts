import type { CohortResults, MessageResults } from '../../../contract/results.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { isMessage } from '../../../core/workflow/steps.ts'

/** A message with what came of it, as a row of the table. */
export interface MessageRow extends MessageResults {
  /** Its name; of one that this version no longer has, its key. */
  name: string
  isGone: boolean
  /** Where it stands in the workflow. */
  place: number
}

/** The messages of a workflow with what came of each, in reading order; those of earlier versions last. */
export function messageRows(definition: Definition, { messages }: CohortResults): MessageRow[] {
  const own = allSteps(definition.steps).filter(isMessage)
  const known = own.map((step, place) => {
    const results = messages.find((one) => one.step === step.key) ?? nothingOf(step.key)
    return { ...results, name: step.name || 'Unnamed message', isGone: false, place }
  })
  const gone = messages
    .filter(({ step }) => own.every(({ key }) => key !== step))
    .map((results, index) => {
      return { ...results, name: results.step, isGone: true, place: own.length + index }
    })
  return [...known, ...gone]
}

const nothingOf = (step: string): MessageResults => ({
  step,
  reached: 0,
  sent: 0,
  delivered: 0,
  opened: 0,
  clicked: 0,
  unsubscribed: 0,
  complained: 0,
  ordered: 0,
  orders: 0,
  revenueMinor: 0,
  notSent: [],
})

/** Two cohorts as one: those whose window is over, with those for whom more may come. */
export function together(a: CohortResults, b: CohortResults): CohortResults {
  const steps = new Set([...a.messages, ...b.messages].map(({ step }) => step))
  const of = ({ messages }: CohortResults, step: string) =>
    messages.find((one) => one.step === step) ?? nothingOf(step)
  return {
    ...summed(a, b, ['entered', 'ordered', 'orders', 'revenueMinor']),
    messages: [...steps].map((step) => {
      const [first, second] = [of(a, step), of(b, step)]
      return { step, ...summed(first, second, COUNTED), notSent: reasonsOf(first, second) }
    }),
  }
}

const COUNTED = ['reached', 'sent', 'delivered', 'opened', 'clicked', 'unsubscribed', 'complained', 'ordered', 'orders', 'revenueMinor'] as const // prettier-ignore

function summed<Key extends string>(
  a: Record<Key, number>,
  b: Record<Key, number>,
  keys: readonly Key[],
): Record<Key, number> {
  return Object.fromEntries(keys.map((key) => [key, a[key] + b[key]])) as Record<Key, number>
}

function reasonsOf(a: MessageResults, b: MessageResults): MessageResults['notSent'] {
  const reasons = new Map<string, MessageResults['notSent'][number]>()
  for (const reason of [...a.notSent, ...b.notSent]) {
    const key = `${reason.code} ${reason.exclusion ?? ''}`
    const before = reasons.get(key)
    reasons.set(key, { ...reason, count: reason.count + (before?.count ?? 0) })
  }
  return [...reasons.values()].toSorted((one, other) => other.count - one.count)
}
