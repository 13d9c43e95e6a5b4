import type { Condition } from '../../conditions/condition.ts'
import { subjectKindOf, type EventType } from '../../events/eventTypes.ts'
import type { Definition } from '../../workflow/definition.ts'
import { freshKey } from '../../workflow/edit.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isToCustomer, type Step } from '../../workflow/steps.ts'
import { subjectOf } from '../../workflow/trigger.ts'
import { asksFor, eventsIn, rulesOf } from './asked.ts'
import { asksForReview, textOf } from '../message/customerText.ts'
import { advises, type Finding } from '../finding.ts'
import { reachedSteps } from './ways.ts'
import { EVENT_WORDS } from '../../words/eventWords.ts'

/** Who goes on getting messages that are right no more: the trade's commonest mistake. */
export function exclusionFindings(definition: Definition): Finding[] {
  return [
    ...undoneFindings(definition),
    ...statusFindings(definition),
    ...unhappyFindings(definition),
  ]
}

const UNDOES: Partial<Record<EventType, readonly EventType[]>> = {
  'order.placed': ['order.cancelled', 'order.refunded'],
  'order.paid': ['order.cancelled', 'order.refunded'],
  'order.processing': ['order.cancelled', 'order.refunded'],
  'order.fulfilled': ['order.refunded'],
  'order.delivered': ['order.refunded'],
  'order.completed': ['order.refunded'],
  'order.payment_failed': ['order.paid', 'order.cancelled'],
  'checkout.started': ['order.placed'],
  'basket.item_added': ['order.placed'],
  'subscription.payment_failed': ['subscription.renewed'],
}

const WAITS: ReadonlySet<Step['kind']> = new Set(['wait', 'until', 'waitFor'])

const waits = ({ steps }: Definition): boolean =>
  allSteps(steps).some(({ kind }) => WAITS.has(kind))

const leavesOnEvents = ({ exclusions }: Definition): Set<EventType> =>
  new Set(exclusions.flatMap(({ when }) => eventsIn(when)))

/** Follow-ups that go on after the order was undone. */
function undoneFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  if (trigger.kind !== 'event' || !waits(definition)) return []
  const asked = leavesOnEvents(definition)
  const missing = (UNDOES[trigger.event] ?? []).filter((event) => !asked.has(event))
  return missing.map((event) => {
    const what = EVENT_WORDS[event].happened.replace(/^an order/, 'the order')
    const title = `Nobody leaves when ${what}.`
    const detail = 'The messages after a wait would still go out.'
    const finding = advises(`missing-exclusion-${event}`, { kind: 'exclusions' }, title, detail)
    const label = `Leave when ${what}`
    return { ...finding, repair: { label, mend: (before) => leavesOn(before, event) } }
  })
}

/** The workflow with an exclusion on an event since entry. */
export function leavesOn(definition: Definition, event: EventType, where?: Condition): Definition {
  const about = subjectKindOf(event) === subjectOf(definition.trigger) ? 'subject' : 'customer'
  return leavesIf(definition, {
    kind: 'history',
    event,
    about,
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
    ...(where && { where }),
  })
}

function leavesIf(definition: Definition, when: Condition): Definition {
  const exclusion = { key: freshKey(definition, 'exclusion'), when, effect: 'leave' as const }
  return { ...definition, exclusions: [...definition.exclusions, exclusion] }
}

/** A date comes, whatever has become of the order or subscription that it stands in. */
function statusFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  const subject = trigger.kind === 'date' ? subjectOf(trigger) : null
  const mending = subject === 'order' || subject === 'subscription' ? MENDED_BY[subject] : undefined
  if (!mending) return []
  const asked = rulesOf(definition)
  const events = new Set(asked.flatMap(eventsIn))
  if (asksFor(asked, ...mending.fields) || mending.events.some((event) => events.has(event))) {
    return []
  }
  const title = 'Whoever has cancelled gets this as well.'
  const finding = advises('any-status', { kind: 'exclusions' }, title, mending.detail)
  const mend = (before: Definition) => leavesIf(before, mending.gone)
  return [{ ...finding, repair: { label: mending.label, mend } }]
}

interface Mending {
  /** What may be asked instead, so that nothing is amiss. */
  fields: string[]
  events: EventType[]
  detail: string
  label: string
  gone: Condition
}

const MENDED_BY: Readonly<Record<'order' | 'subscription', Mending>> = {
  order: {
    fields: ['order.status'],
    events: ['order.cancelled', 'order.refunded'],
    detail: 'The date comes all the same when the order was undone.',
    label: 'Leave when it was undone',
    gone: { kind: 'field', field: 'order.status', op: 'in', value: ['cancelled', 'refunded'] },
  },
  subscription: {
    fields: ['subscription.status', 'subscription.automatic'],
    events: ['subscription.status_changed'],
    detail: 'Ask whether the subscription still goes on, or renews automatically.',
    label: 'Leave when it has ended',
    gone: {
      kind: 'field',
      field: 'subscription.status',
      op: 'in',
      value: ['cancelled', 'ended'],
    },
  },
}

const USED: ReadonlySet<EventType> = new Set([
  'order.fulfilled',
  'order.delivered',
  'order.completed',
])

/** Offers that follow a bad review of what was sent. */
function unhappyFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  if (trigger.kind !== 'event' || !USED.has(trigger.event)) return []
  const sells = reachedSteps(definition).some(
    ({ step, afterMs, byDate }) =>
      isToCustomer(step) &&
      step.purpose === 'marketing' &&
      // Whoever asks for a review must ask for any that has come.
      !asksForReview(textOf(step)) &&
      (afterMs > 0 || byDate),
  )
  if (!sells || leavesOnEvents(definition).has('review.submitted')) return []
  const title = 'Whoever writes a bad review is written to as if nothing had been.'
  const detail = 'The messages after a wait would look as if nobody had read it.'
  const finding = advises('bad-review', { kind: 'exclusions' }, title, detail)
  const bad: Condition = { kind: 'field', field: 'review.stars', op: 'lte', value: 2 }
  const mend = (before: Definition) => leavesOn(before, 'review.submitted', bad)
  return [{ ...finding, repair: { label: 'Leave on a bad review', mend } }]
}
