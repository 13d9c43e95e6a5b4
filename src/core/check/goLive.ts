import { EVENT_TYPES, type EventType } from '../events/eventTypes.ts'
import { listsOf } from '../timetable/layout.ts'
import { allSteps, type Definition, type EmailStep, type Step } from '../workflow/definition.ts'
import { conditionFindings, eventsIn } from './conditionFindings.ts'
import { stops, type Finding } from './finding.ts'
import { messageFindings } from './messageFindings.ts'

/** All findings of the go-live check, errors first, each group in reading order. */
export function goLiveFindings(definition: Definition): Finding[] {
  const findings = [
    ...workflowFindings(definition),
    ...conditionFindings(definition),
    ...exclusionFindings(definition),
    ...unreachedFindings(definition.steps),
    ...emailsOf(definition).flatMap((email) => messageFindings(email, definition.trigger.event)),
  ]
  return [
    ...findings.filter(({ severity }) => severity === 'error'),
    ...findings.filter(({ severity }) => severity === 'warning'),
  ]
}

function emailsOf(definition: Definition): EmailStep[] {
  return allSteps(definition.steps).filter((step) => step.kind === 'email')
}

function workflowFindings(definition: Definition): Finding[] {
  const place = { kind: 'workflow' } as const
  const findings: Finding[] = []
  if (definition.name.trim() === '') {
    const detail = 'Colleagues find it by its name.'
    findings.push(stops('no-name', place, 'This workflow has no name.', detail))
  }
  if (emailsOf(definition).length === 0) {
    const detail = 'Add at least one message.'
    findings.push(stops('no-message', place, 'This workflow sends nothing.', detail))
  }
  return findings
}

const UNDOES: Partial<Record<EventType, readonly EventType[]>> = {
  'order.placed': ['order.cancelled', 'order.refunded'],
  'order.paid': ['order.cancelled', 'order.refunded'],
  'order.fulfilled': ['order.refunded'],
  'order.payment_failed': ['order.paid', 'order.cancelled'],
}

/** Follow-ups that go on after the order was undone: the trade's commonest mistake. */
function exclusionFindings(definition: Definition): Finding[] {
  if (!allSteps(definition.steps).some((step) => step.kind === 'wait')) return []
  const asked = new Set(definition.exclusions.flatMap(({ when }) => eventsIn(when)))
  const missing = (UNDOES[definition.trigger.event] ?? []).filter((event) => !asked.has(event))
  return missing.map((event) => ({
    code: `missing-exclusion-${event}`,
    severity: 'warning',
    place: { kind: 'exclusions' },
    title: `Nobody leaves when ${EVENT_TYPES[event].happened.replace(/^an order/, 'the order')}.`,
    detail: `The messages after a wait would still go out. Add “${EVENT_TYPES[event].label}” to the exclusions.`,
  }))
}

function unreachedFindings(steps: readonly Step[]): Finding[] {
  const closing = steps.findIndex(closesPath)
  const unreached = closing === -1 ? undefined : steps[closing + 1]
  const inside = steps.flatMap((step) =>
    step.kind === 'split' ? listsOf(step).flatMap((list) => unreachedFindings(list.steps)) : [],
  )
  if (!unreached) return inside
  const title = 'Nobody gets here: every path before it has ended.'
  const detail = 'Remove the end before it, or remove what comes after.'
  return [...inside, stops('unreached', { kind: 'step', key: unreached.key }, title, detail)]
}

/** True when nobody goes on after the step. */
function closesPath(step: Step): boolean {
  if (step.kind === 'end') return true
  return step.kind === 'split' && listsOf(step).every((list) => list.steps.some(closesPath))
}
