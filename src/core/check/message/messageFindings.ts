import { emailAddress } from '../../events/entities.ts'
import { blocksOf, changeTexts, partsOf, type MessagePart } from '../../workflow/templates.ts'
import { siteFor } from '../../messages/links.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isMessage, type EmailStep, type MessageStep, type NoteStep } from '../../workflow/steps.ts'
import { fieldFindings } from './fieldFindings.ts'
import { stops, type Finding, type Repair } from '../finding.ts'
import { changingMessage } from '../mend.ts'
import { reachedSteps } from '../flow/ways.ts'

/** What keeps messages from being sent, or from being right, in reading order. */
export function messageFindings(definition: Definition): Finding[] {
  const { trigger } = definition
  const couponEnds = allSteps(definition.steps).every(
    (step) => step.kind !== 'coupon' || step.expiresAfter !== undefined,
  )
  const couponsBefore = new Map(
    reachedSteps(definition).map(({ step, coupon }) => [step.key, coupon]),
  )
  return allSteps(definition.steps)
    .filter(isMessage)
    .flatMap((message) => {
      const coupon = couponsBefore.get(message.key) ?? 'none'
      const site = siteFor(message, definition)
      const filling = { trigger, coupon, couponEnds, site }
      return [...partFindings(message), ...fieldFindings(message, filling)]
    })
}

const isAddress = (text: string): boolean => emailAddress.safeParse(text).success

/** Something that is not to be so, its code, what to say where it is, and in which part. */
type Check = [wrong: boolean, code: string, title: string, detail: string, part?: MessagePart]

const TEXT: MessagePart = { kind: 'text' }
const ENVELOPE: MessagePart = { kind: 'envelope' }

function partFindings(message: MessageStep): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const name = `“${message.name}”`
  const loose = partsOf(message).find(({ template }) => hasLooseBraces(template))?.part
  const slip = partsOf(message).find(({ template }) => OPTION_BY_COMMA.test(template))?.part
  const checks: Check[] = [
    [isEmpty(message), 'no-body', `${name} is empty.`, 'Write its text.', TEXT],
    [loose !== undefined, 'braces', `${name} has a merge field that is not closed.`, 'Every {{ needs its }}, and every {% its %}.', loose ?? TEXT],
    [slip !== undefined, 'merge-options', `${name} has a merge field whose options are parted by a comma.`, 'What stands behind the comma is lost. Part them by |, as in {{ field | as: "weekday" | default: "soon" }}.', slip ?? TEXT],
    ...ownChecks(message, name),
  ] // prettier-ignore
  return checks.flatMap(([wrong, code, title, detail, part]) => {
    if (!wrong) return []
    const finding = { ...stops(code, place, title, detail), ...(part && { part }) }
    return code === 'merge-options'
      ? [{ ...finding, repair: partingByBars(message.key) }]
      : [finding]
  })
}

/** What is asked of a message by its channel. */
function ownChecks(message: MessageStep, name: string): Check[] {
  switch (message.kind) {
    case 'sms':
      return []
    case 'email':
      return [...subjectChecks(message, name), ...emailChecks(message, name)]
    case 'note':
      return [...subjectChecks(message, name), ...noteChecks(message, name)]
  }
}

const isEmpty = (message: MessageStep): boolean =>
  message.kind === 'email' && message.format === 'designed'
    ? blocksOf(message).length === 0
    : message.body.trim() === ''

const subjectChecks = ({ subject }: EmailStep | NoteStep, name: string): Check[] => [
  [
    subject.trim() === '',
    'no-subject',
    `${name} has no subject.`,
    'Write one.',
    { kind: 'subject' },
  ],
]

const emailChecks = ({ sender, replyTo, copies }: EmailStep, name: string): Check[] => [
  [!isAddress(sender.address), 'sender', `${name} has no sender’s address.`, 'Give one like maren@shop.example.', ENVELOPE],
  [sender.name.trim() === '', 'sender-name', `${name} has no sender’s name.`, 'Say who writes.', ENVELOPE],
  [replyTo !== undefined && !isAddress(replyTo), 'reply-to', `Answers to ${name} would reach nobody.`, 'Give an address for them, or none.', ENVELOPE],
  [(copies ?? []).some((one) => !isAddress(one)), 'copies', `A copy of ${name} would reach nobody.`, 'Correct the address for copies, or take it out.', ENVELOPE],
] // prettier-ignore

const noteChecks = ({ to, groups = [] }: NoteStep, name: string): Check[] => [
  [to.length + groups.length === 0, 'no-staff', `${name} goes to nobody.`, 'Say who of the staff gets it.', ENVELOPE],
  [to.some((one) => !isAddress(one)), 'staff-address', `${name} has an address that is none.`, 'Correct it, or take it out.', ENVELOPE],
] // prettier-ignore

const partingByBars = (key: string): Repair => ({
  label: 'Part them by |',
  mend: changingMessage(key, (before) =>
    changeTexts(before, (text) =>
      text.replaceAll(/\{\{[^{}]*\}\}/g, (tag) =>
        tag.replaceAll(/(["'])\s*,\s*(as|default)\b/g, '$1 | $2'),
      ),
    ),
  ),
})

const OPTION_BY_COMMA = /\{\{[^{}]*\|\s*(?:as|default)\s*:\s*(?:"[^"]*"|'[^']*')\s*,[^{}]*\}\}/

const hasLooseBraces = (template: string): boolean =>
  /\{\{|\}\}|\{%|%\}/.test(template.replaceAll(/\{\{[^{}]*\}\}|\{%[^{}]*%\}/g, ''))
