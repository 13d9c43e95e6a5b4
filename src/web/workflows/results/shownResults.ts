import type { CohortResults, MessageResults } from '../../../contract/results.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { wayName } from '../../../core/words/wayNames.ts'
import { listsOf } from '../../../core/workflow/lists.ts'
import {
  isBranching,
  isMessage,
  type MessageStep,
  type Step,
} from '../../../core/workflow/steps.ts'

/** A message with what came of it, as a row of the table. */
export interface MessageRow extends MessageResults {
  /** Its name; of one that this version no longer has, its key. */
  name: string
  isGone: boolean
  /** The ways on which it lies, from the outermost inwards. */
  ways: readonly string[]
  /** Where it stands in the workflow. */
  place: number
  /** The same of the time before. */
  before?: MessageResults | undefined
}

/** The messages of a workflow with what came of each, in reading order; those of earlier versions last. */
export function messageRows(
  definition: Definition,
  { messages }: CohortResults,
  before: CohortResults | null = null,
): MessageRow[] {
  const earlier = (key: string) =>
    before ? (before.messages.find(({ step }) => step === key) ?? nothingOf(key)) : undefined
  const own = messagesIn(definition.steps, [])
  const known = own.map(({ message: { key, name }, ways }, place) => {
    const results = messages.find((one) => one.step === key) ?? nothingOf(key)
    return { ...results, name: name || 'Unnamed message', isGone: false, ways, place, before: earlier(key) } // prettier-ignore
  })
  const gone = messages
    .filter(({ step }) => own.every(({ message }) => message.key !== step))
    .map((results, index) => {
      return { ...results, name: results.step, isGone: true, ways: [], place: own.length + index, before: earlier(results.step) } // prettier-ignore
    })
  return [...known, ...gone]
}

function messagesIn(
  steps: readonly Step[],
  ways: readonly string[],
): { message: MessageStep; ways: readonly string[] }[] {
  return steps.flatMap((step) => {
    if (isMessage(step)) return [{ message: step, ways }]
    if (!isBranching(step)) return []
    return listsOf(step).flatMap((list) => messagesIn(list.steps, [...ways, wayName(step, list)]))
  })
}

/** A message that nobody has come to. */
export const nothingOf = (step: string): MessageResults => ({
  step,
  reached: 0,
  sent: 0,
  delivered: 0,
  opened: 0,
  fetched: 0,
  clicked: 0,
  replied: 0,
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

const COUNTED = ['reached', 'sent', 'delivered', 'opened', 'fetched', 'clicked', 'replied', 'unsubscribed', 'complained', 'ordered', 'orders', 'revenueMinor'] as const // prettier-ignore

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
