import { testsIn } from '../../conditions/condition.ts'
import { findField } from '../../conditions/fields.ts'
import type { EventType } from '../../events/eventTypes.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isPerLine } from '../../workflow/trigger.ts'

/** A message that a shop sends by itself until a workflow takes it over. */
export interface Notice {
  key: string
  label: string
  /** What the shop sends it on. */
  event: EventType
}

/** The notices that shops usually have built in (common practice). */
export const NOTICES: readonly Notice[] = [
  { key: 'order-confirmation', label: 'Order confirmation', event: 'order.placed' },
  { key: 'payment-received', label: 'Payment received', event: 'order.paid' },
  { key: 'payment-failed', label: 'Payment failed', event: 'order.payment_failed' },
  { key: 'dispatch', label: 'Dispatch notice', event: 'order.fulfilled' },
  { key: 'delivered', label: 'Delivered', event: 'order.delivered' },
  { key: 'cancelled', label: 'Order cancelled', event: 'order.cancelled' },
  { key: 'refunded', label: 'Refund', event: 'order.refunded' },
  { key: 'subscription-started', label: 'Subscription started', event: 'subscription.created' },
  { key: 'renewed', label: 'Subscription renewed', event: 'subscription.renewed' },
  { key: 'renewal-failed', label: 'Renewal payment failed', event: 'subscription.payment_failed' },
  { key: 'trial-ended', label: 'Trial ended', event: 'subscription.trial_ended' },
]

/** A workflow that is live, as far as notices go. */
export interface NoticeWorkflow {
  id: string
  name: string
  definition: Definition
}

/** Who sends a notice, and what is wrong with that. */
export interface NoticeState {
  key: string
  label: string
  /** The workflow that has taken it over; null while the shop sends it. */
  takenBy: string | null
  /** The live workflows that could. */
  candidates: { id: string; name: string }[]
  trouble: 'both' | 'neither' | null
}

/** True where only those who bought certain products enter: what they get is about these, and no notice. */
export const isAboutProducts = ({ trigger }: Definition): boolean =>
  isPerLine(trigger) ||
  (trigger.filter !== undefined &&
    testsIn(trigger.filter).some(
      (test) =>
        test.kind === 'lines' || (test.kind === 'field' && findField(test.field)?.about === 'line'),
    ))

/** True for workflows that answer an event with a message that belongs to the order. */
function sendsOn(definition: Definition, event: EventType): boolean {
  const { trigger, steps } = definition
  if (trigger.kind !== 'event' || trigger.event !== event || isAboutProducts(definition)) {
    return false
  }
  return allSteps(steps).some((step) => step.kind === 'email' && step.purpose === 'transactional')
}

/** The shop's notices that a workflow could send in its place, by key. */
export const noticesSentOn = (definition: Definition): string[] =>
  NOTICES.filter(({ event }) => sendsOn(definition, event)).map(({ key }) => key)

/** Who sends each of the shop's notices. `taken` says which workflow has taken one over. */
export function noticeStates(
  taken: Readonly<Record<string, string>>,
  live: readonly NoticeWorkflow[],
): NoticeState[] {
  return NOTICES.map(({ key, label, event }) => {
    const candidates = live.filter(({ definition }) => sendsOn(definition, event))
    const takenBy = Object.hasOwn(taken, key) ? (taken[key] ?? null) : null
    const sends = candidates.some(({ id }) => id === takenBy)
    return {
      key,
      label,
      takenBy,
      candidates: candidates.map(({ id, name }) => ({ id, name })),
      trouble: troubleOf(takenBy, sends, candidates),
    }
  })
}

function troubleOf(
  takenBy: string | null,
  sends: boolean,
  candidates: readonly NoticeWorkflow[],
): NoticeState['trouble'] {
  if (takenBy !== null && !sends) return 'neither'
  return takenBy === null && candidates.length > 0 ? 'both' : null
}
