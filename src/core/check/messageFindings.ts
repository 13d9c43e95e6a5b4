import { emailAddress } from '../events/entities.ts'
import { EVENT_TYPES, isOrderEvent, type EventType } from '../events/eventTypes.ts'
import { MERGE_FIELDS, usedMergeFields } from '../messages/mergeFields.ts'
import type { EmailStep } from '../workflow/definition.ts'
import { stops, type Finding } from './finding.ts'

/** What keeps one message from being sent, or from being right. */
export function messageFindings(email: EmailStep, trigger: EventType): Finding[] {
  return [...partFindings(email), ...mergeFieldFindings(email, trigger)]
}

const isAddress = (text: string): boolean => emailAddress.safeParse(text).success

function partFindings(email: EmailStep): Finding[] {
  const place = { kind: 'step', key: email.key } as const
  const name = `“${email.name}”`
  const checks: [boolean, string, string, string][] = [
    [email.subject.trim() === '', 'no-subject', `${name} has no subject.`, 'Write one.'],
    [email.body.trim() === '', 'no-body', `${name} is empty.`, 'Write its text.'],
    [!isAddress(email.sender.address), 'sender', `${name} has no sender’s address.`, 'Give one like maren@shop.example.'],
    [email.sender.name.trim() === '', 'sender-name', `${name} has no sender’s name.`, 'Say who writes.'],
    [email.replyTo !== undefined && !isAddress(email.replyTo), 'reply-to', `Answers to ${name} would reach nobody.`, 'Give an address for them, or none.'],
    [hasLooseBraces(email), 'braces', `${name} has a merge field that is not closed.`, 'Every {{ needs its }}, and every {% its %}.'],
  ] // prettier-ignore
  return checks.flatMap(([wrong, code, title, detail]) =>
    wrong ? [stops(code, place, title, detail)] : [],
  )
}

const templateOf = (email: EmailStep): string =>
  [email.subject, email.previewText, email.body].join('\n')

function hasLooseBraces(email: EmailStep): boolean {
  return [email.subject, email.previewText, email.body].some((template) =>
    /\{\{|\}\}|\{%|%\}/.test(template.replaceAll(/\{\{[^{}]*\}\}|\{%[^{}]*%\}/g, '')),
  )
}

function mergeFieldFindings(email: EmailStep, trigger: EventType): Finding[] {
  const place = { kind: 'step', key: email.key } as const
  const findings = usedMergeFields(templateOf(email)).flatMap(({ key, hasFallback }) => {
    const problem = mergeFieldProblem(key, hasFallback, trigger)
    if (!problem) return []
    return [stops(`field-${key}`, place, `“${email.name}”: ${problem.title}`, problem.detail)]
  })
  return [...new Map(findings.map((finding) => [finding.code, finding])).values()]
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
