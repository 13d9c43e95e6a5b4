import { emailAddress } from '../events/entities.ts'
import { blocksOf, templatesOf } from '../messages/templates.ts'
import { FORMATS } from '../messages/formats.ts'
import {
  canFillField,
  findMergeField,
  usedMergeFields,
  type MergeField,
  type UsedMergeField,
} from '../messages/mergeFields.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { isMessage, type EmailStep, type MessageStep, type NoteStep } from '../workflow/steps.ts'
import { stops, type Finding } from './finding.ts'
import { reachedSteps, type OnTheWays } from './ways.ts'

/** What keeps messages from being sent, or from being right, in reading order. */
export function messageFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  const couponsBefore = new Map(
    reachedSteps(definition).map(({ step, coupon }) => [step.key, coupon]),
  )
  return allSteps(definition.steps)
    .filter(isMessage)
    .flatMap((message) => {
      const filling = { trigger, coupon: couponsBefore.get(message.key) ?? 'none' }
      return [...partFindings(message), ...mergeFieldFindings(message, filling)]
    })
}

/** What decides which merge fields can be filled. */
interface Filling extends Pick<Definition, 'trigger'> {
  /** On how many of the ways that lead to the message one is issued. */
  coupon: OnTheWays
}

const isAddress = (text: string): boolean => emailAddress.safeParse(text).success

/** Something that is to be so, its code, and what to say where it is. */
type Check = [wrong: boolean, code: string, title: string, detail: string]

function partFindings(message: MessageStep): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const name = `“${message.name}”`
  const checks: Check[] = [
    [isEmpty(message), 'no-body', `${name} is empty.`, 'Write its text.'],
    [hasLooseBraces(message), 'braces', `${name} has a merge field that is not closed.`, 'Every {{ needs its }}, and every {% its %}.'],
    ...(message.kind === 'sms' ? [] : subjectChecks(message, name)),
    ...(message.kind === 'email' ? emailChecks(message, name) : []),
    ...(message.kind === 'note' ? noteChecks(message, name) : []),
  ] // prettier-ignore
  return checks.flatMap(([wrong, code, title, detail]) =>
    wrong ? [stops(code, place, title, detail)] : [],
  )
}

const isEmpty = (message: MessageStep): boolean =>
  message.kind === 'email' && message.format === 'designed'
    ? blocksOf(message).length === 0
    : message.body.trim() === ''

const subjectChecks = ({ subject }: EmailStep | NoteStep, name: string): Check[] => [
  [subject.trim() === '', 'no-subject', `${name} has no subject.`, 'Write one.'],
]

const emailChecks = ({ sender, replyTo, copies }: EmailStep, name: string): Check[] => [
  [!isAddress(sender.address), 'sender', `${name} has no sender’s address.`, 'Give one like maren@shop.example.'],
  [sender.name.trim() === '', 'sender-name', `${name} has no sender’s name.`, 'Say who writes.'],
  [replyTo !== undefined && !isAddress(replyTo), 'reply-to', `Answers to ${name} would reach nobody.`, 'Give an address for them, or none.'],
  [(copies ?? []).some((one) => !isAddress(one)), 'copies', `A copy of ${name} would reach nobody.`, 'Mend the address for copies, or take it out.'],
] // prettier-ignore

const noteChecks = ({ to, groups = [] }: NoteStep, name: string): Check[] => [
  [to.length + groups.length === 0, 'no-staff', `${name} goes to nobody.`, 'Say who of the staff gets it.'],
  [to.some((one) => !isAddress(one)), 'staff-address', `${name} has an address that is none.`, 'Mend it, or take it out.'],
] // prettier-ignore

function hasLooseBraces(message: MessageStep): boolean {
  return templatesOf(message).some((template) =>
    /\{\{|\}\}|\{%|%\}/.test(template.replaceAll(/\{\{[^{}]*\}\}|\{%[^{}]*%\}/g, '')),
  )
}

function mergeFieldFindings(message: MessageStep, filling: Filling): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const used = templatesOf(message).flatMap(usedMergeFields)
  const forStaff = message.kind === 'note'
  const findings = used.flatMap((one) => {
    const problem = mergeFieldProblem(one, { ...filling, forStaff })
    if (!problem) return []
    return [stops(`field-${one.key}`, place, `“${message.name}”: ${problem.title}`, problem.detail)]
  })
  return [...new Map(findings.map((finding) => [finding.code, finding])).values()]
}

const NO_COUPON =
  'No coupon step stands before the message on its way. Put one there, or take the field out.'

const formatsOf = ({ formats }: MergeField) => (formats === null ? [] : FORMATS[formats])

function mergeFieldProblem(
  { key, hasFallback, format }: UsedMergeField,
  { trigger, coupon, forStaff }: Filling & { forStaff: boolean },
) {
  const field = findMergeField(key)
  if (!field) {
    return {
      title: `there is no merge field ${key}.`,
      detail: 'Take one of those that “{ }” over the text offers.',
    }
  }
  if (field.forStaff && !forStaff) {
    return {
      title: `${field.label} is for staff.`,
      detail: 'Customers cannot open it. It can stand in notes only.',
    }
  }
  if (!canFillField(field, trigger, coupon !== 'none')) {
    return {
      title: `${field.label} cannot be filled.`,
      detail:
        field.about === 'coupon'
          ? NO_COUPON
          : `This workflow has no ${field.about}. Take the field out.`,
    }
  }
  if (format !== null && !formatsOf(field).some((one) => one.key === format)) {
    return {
      title: `${field.label} cannot be written as “${format}”.`,
      detail: formatsOf(field).length > 0 ? `It can be ${formatsOf(field).map((one) => `“${one.key}”`).join(', ')}.` : 'It can be written in one way only.', // prettier-ignore
    }
  }
  return hasFallback ? null : maybeEmpty(field, coupon)
}

/** What is wrong with a field that nothing stands in for where it is unknown. */
function maybeEmpty({ key, label, about, alwaysFilled }: MergeField, coupon: OnTheWays) {
  if (about === 'coupon' && coupon === 'some') {
    return {
      title: `${label} is not there for everyone: some of the ways that lead here issue none.`,
      detail: 'Put the coupon step before the paths part, or the message on the path that has it.',
    }
  }
  if (alwaysFilled) return null
  return {
    title: `${label} is not known of everyone.`,
    detail: `Give it a fallback: {{ ${key} | default: "there" }}`,
  }
}
