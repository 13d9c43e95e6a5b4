import type { Condition } from '../conditions/condition.ts'
import { EVENT_TYPES, isOrderEvent, type EventType } from '../events/eventTypes.ts'
import { assertNever } from '../shared/assertNever.ts'
import { MERGE_FIELDS, usedMergeFields } from '../messages/mergeFields.ts'
import { allSteps, type Definition, type EmailStep, type Step } from '../workflow/definition.ts'
import { listsOf } from '../timetable/layout.ts'

/** Where a finding is to be mended. */
export type FindingPlace =
  { kind: 'workflow' } | { kind: 'exclusions' } | { kind: 'step'; key: string }

/** Something that stops (error) or questions (warning) switching a draft on. */
export interface Finding {
  code: string
  severity: 'error' | 'warning'
  place: FindingPlace
  title: string
  detail: string
}

/** All findings of the go-live check, errors first, each group in reading order. */
export function goLiveFindings(definition: Definition): Finding[] {
  const findings = [
    ...workflowFindings(definition),
    ...exclusionFindings(definition),
    ...unreachedFindings(definition.steps),
    ...emailsOf(definition).flatMap((email) => emailFindings(email, definition.trigger.event)),
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
  if (emailsOf(definition).length > 0) return []
  return [
    {
      code: 'no-message',
      severity: 'error',
      place: { kind: 'workflow' },
      title: 'This workflow sends nothing.',
      detail: 'Add at least one message.',
    },
  ]
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
    title: `Nobody leaves when ${EVENT_TYPES[event].happened.replace(/^(an order|the payment)/, 'the order')}.`,
    detail: `The messages after a wait would still go out. Add “${EVENT_TYPES[event].label}” to the exclusions.`,
  }))
}

function eventsIn(condition: Condition): EventType[] {
  switch (condition.kind) {
    case 'all':
    case 'any':
      return condition.of.flatMap(eventsIn)
    case 'not':
      return eventsIn(condition.of)
    case 'history':
      return [condition.event]
    case 'field':
      return []
    default:
      return assertNever(condition, 'condition')
  }
}

function unreachedFindings(steps: readonly Step[]): Finding[] {
  const closing = steps.findIndex(closesPath)
  const unreached = closing === -1 ? undefined : steps[closing + 1]
  const inside = steps.flatMap((step) =>
    step.kind === 'split' ? listsOf(step).flatMap((list) => unreachedFindings(list.steps)) : [],
  )
  if (!unreached) return inside
  return [
    ...inside,
    {
      code: 'unreached',
      severity: 'error',
      place: { kind: 'step', key: unreached.key },
      title: 'Nobody gets here: every path before it has ended.',
      detail: 'Remove the end before it, or remove what comes after.',
    },
  ]
}

/** True when nobody goes on after the step. */
function closesPath(step: Step): boolean {
  if (step.kind === 'end') return true
  return step.kind === 'split' && listsOf(step).every((list) => list.steps.some(closesPath))
}

function emailFindings(email: EmailStep, trigger: EventType): Finding[] {
  const place = { kind: 'step', key: email.key } as const
  const error = (code: string, title: string, detail: string): Finding => ({
    code, severity: 'error', place, title, detail,
  }) // prettier-ignore
  const empty = [
    ...(email.subject.trim() === ''
      ? [error('no-subject', `“${email.name}” has no subject.`, 'Write one.')]
      : []),
    ...(email.body.trim() === ''
      ? [error('no-body', `“${email.name}” is empty.`, 'Write its text.')]
      : []),
  ]
  const template = `${email.subject}\n${email.previewText}\n${email.body}`
  const fields = usedMergeFields(template).flatMap(({ key, hasFallback }) => {
    const problem = mergeFieldProblem(key, hasFallback, trigger)
    return problem
      ? [error(`field-${key}`, `“${email.name}”: ${problem.title}`, problem.detail)]
      : []
  })
  return [...empty, ...new Map(fields.map((finding) => [finding.code, finding])).values()]
}

function mergeFieldProblem(key: string, hasFallback: boolean, trigger: EventType) {
  const field = MERGE_FIELDS.find((one) => one.key === key)
  if (!field) {
    return {
      title: `there is no merge field ${key}.`,
      detail: 'Take one of those offered under the text.',
    }
  }
  if (field.about === 'order' && !isOrderEvent(trigger)) {
    return {
      title: `${field.label} cannot be filled.`,
      detail: `When ${EVENT_TYPES[trigger].happened} there is no order. Take the field out.`,
    }
  }
  if (field.alwaysFilled || hasFallback) return null
  return {
    title: `${field.label} is not known of everyone.`,
    detail: `Give it a fallback: {{ ${key} | default: "there" }}`,
  }
}
