import type { Condition } from '../conditions/condition.ts'
import { EVENT_TYPES, subjectKindOf, type EventType } from '../events/eventTypes.ts'
import type { Definition } from '../workflow/definition.ts'
import { freshKey } from '../workflow/edit.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import { isFork, isMessage, type MessageStep, type Step } from '../workflow/steps.ts'
import { blockFindings } from './blockFindings.ts'
import { conditionFindings, eventsIn } from './conditionFindings.ts'
import { advises, stops, type Finding } from './finding.ts'
import { messageFindings } from './messageFindings.ts'
import { practiceFindings } from './practiceFindings.ts'
import { reachFindings } from './reachFindings.ts'
import { stepFindings } from './stepFindings.ts'
import { wordingFindings } from './wordingFindings.ts'
import { subjectOf } from '../workflow/trigger.ts'

/** All findings of the go-live check, errors first, each group in reading order. */
export function goLiveFindings(definition: Definition): Finding[] {
  const unfinished = conditionFindings(definition)
  const findings = [
    ...workflowFindings(definition),
    ...unfinished,
    // What is not finished yet cannot be reasoned about.
    ...(unfinished.length === 0 ? reachFindings(definition) : []),
    ...exclusionFindings(definition),
    ...unreachedFindings(definition.steps),
    ...stepFindings(definition),
    ...messageFindings(definition),
    ...blockFindings(definition),
    ...practiceFindings(definition),
    ...wordingFindings(definition),
  ]
  return [
    ...findings.filter(({ severity }) => severity === 'error'),
    ...findings.filter(({ severity }) => severity === 'warning'),
  ]
}

function messagesOf(definition: Definition): MessageStep[] {
  return allSteps(definition.steps).filter(isMessage)
}

const DOES_SOMETHING: ReadonlySet<Step['kind']> = new Set(['hook', 'tag', 'list', 'property'])

function workflowFindings(definition: Definition): Finding[] {
  const place = { kind: 'workflow' } as const
  const findings: Finding[] = []
  if (definition.name.trim() === '') {
    const detail = 'Colleagues find it by its name.'
    findings.push(stops('no-name', place, 'This workflow has no name.', detail))
  }
  const acts = allSteps(definition.steps).some(({ kind }) => DOES_SOMETHING.has(kind))
  if (messagesOf(definition).length === 0 && !acts) {
    const detail = 'Add at least one message or action.'
    findings.push(stops('no-message', place, 'This workflow does nothing.', detail))
  }
  return findings
}

const UNDOES: Partial<Record<EventType, readonly EventType[]>> = {
  'order.placed': ['order.cancelled', 'order.refunded'],
  'order.paid': ['order.cancelled', 'order.refunded'],
  'order.fulfilled': ['order.refunded'],
  'order.delivered': ['order.refunded'],
  'order.completed': ['order.refunded'],
  'order.payment_failed': ['order.paid', 'order.cancelled'],
  'checkout.started': ['order.placed'],
  'basket.item_added': ['order.placed'],
  'subscription.payment_failed': ['subscription.renewed'],
}

const WAITS: ReadonlySet<Step['kind']> = new Set(['wait', 'until', 'waitFor'])

/** Follow-ups that go on after the order was undone: the trade's commonest mistake. */
function exclusionFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  if (trigger.kind !== 'event') return []
  if (!allSteps(definition.steps).some((step) => WAITS.has(step.kind))) return []
  const asked = new Set(definition.exclusions.flatMap(({ when }) => eventsIn(when)))
  const missing = (UNDOES[trigger.event] ?? []).filter((event) => !asked.has(event))
  return missing.map((event) => {
    const what = EVENT_TYPES[event].happened.replace(/^an order/, 'the order')
    const title = `Nobody leaves when ${what}.`
    const detail = 'The messages after a wait would still go out.'
    const finding = advises(`missing-exclusion-${event}`, { kind: 'exclusions' }, title, detail)
    const label = `Leave when ${what}`
    return { ...finding, repair: { label, mend: (before) => leavesOn(before, event) } }
  })
}

/** The workflow with an exclusion on an event since entry. */
function leavesOn(definition: Definition, event: EventType): Definition {
  const about = subjectKindOf(event) === subjectOf(definition.trigger) ? 'subject' : 'customer'
  const when: Condition = {
    kind: 'history',
    event,
    about,
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
  }
  const exclusion = { key: freshKey(definition, 'exclusion'), when, effect: 'leave' as const }
  return { ...definition, exclusions: [...definition.exclusions, exclusion] }
}

function unreachedFindings(steps: readonly Step[]): Finding[] {
  const closing = steps.findIndex(closesPath)
  const unreached = closing === -1 ? undefined : steps[closing + 1]
  const inside = steps.flatMap((step) =>
    isFork(step) ? listsOf(step).flatMap((list) => unreachedFindings(list.steps)) : [],
  )
  if (!unreached) return inside
  const title = 'Nobody gets here: every path before it has ended.'
  const detail = 'Remove the end before it, or remove what comes after.'
  return [...inside, stops('unreached', { kind: 'step', key: unreached.key }, title, detail)]
}

/** True when nobody goes on after the step. */
function closesPath(step: Step): boolean {
  if (step.kind === 'end') return true
  return isFork(step) && listsOf(step).every((list) => list.steps.some(closesPath))
}
