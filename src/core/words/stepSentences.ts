import { CHANNELS } from '../channels/catalogue.ts'
import { partsOf } from '../workflow/templates.ts'
import { findField } from '../conditions/fields.ts'
import { subjectKindOf } from '../events/eventTypes.ts'
import { readableTemplate } from '../messages/mergeFields.ts'
import { formatMoney } from '../shared/money.ts'
import {
  type CouponStep,
  type MessageStep,
  type Step,
  type StepKind,
  type UntilStep,
  type WaitForStep,
  type WaitStep,
  isToCustomer,
} from '../workflow/steps.ts'
import { conditionWords, type WordContext } from './conditions.ts'
import { dayWords, durationWords, WEEKDAYS, dayLater } from './quantities.ts'
import { EVENT_WORDS } from './eventWords.ts'

/** What a step does, as a sentence for somebody who has never seen the workflow. */
export function stepSentence(step: Step, context: WordContext): string {
  const sentence = SENTENCES[step.kind] as (step: Step, context: WordContext) => string
  return sentence(step, context)
}

type StepOf<Kind extends StepKind> = Extract<Step, { kind: Kind }>

const SENTENCES: { [Kind in StepKind]: (step: StepOf<Kind>, context: WordContext) => string } = {
  wait: waitSentence,
  until: untilSentence,
  waitFor: waitForSentence,
  split: () => 'People part; the first that fits counts:',
  experiment: ({ name }) => `People part by chance${name === '' ? '' : ` (${name})`}:`,
  email: messageSentence,
  sms: messageSentence,
  note: messageSentence,
  coupon: couponSentence,
  tag: ({ change, tag }) => `${change === 'add' ? 'Add' : 'Remove'} the tag “${tag}”.`,
  list: ({ change, list }) => `${change === 'add' ? 'Add to' : 'Remove from'} the list “${list}”.`,
  property: ({ property, value }) => `Set ${property || 'a property'} to “${value}”.`,
  hook: ({ name, url }) => `Call “${name}” at ${url || 'no address yet'}.`,
  end: () => 'This path ends here.',
}

function waitSentence({ for: duration, at, weekdays, onDay }: WaitStep): string {
  const span = durationWords(duration)
  if (at === undefined) return `Wait ${span}.`
  const days =
    weekdays && weekdays.length < 7
      ? ` on ${weekdays.map((day) => WEEKDAYS[day - 1]).join(', ')}`
      : ''
  const hour = `${at} local time${days}`
  if (onDay) return `Wait until ${dayLater(duration)}, ${hour}.`
  return span === 'no time' ? `Wait until ${hour}.` : `Wait ${span}, then until ${hour}.`
}

const IF_PAST: Readonly<Record<UntilStep['ifPast'], string>> = {
  goOn: 'go on at once',
  skipNext: 'skip the next message',
  leave: 'leave',
}

function untilSentence({ until, ifPast }: UntilStep): string {
  const past = `if that is past, ${IF_PAST[ifPast]}`
  if (until.kind === 'fixed') return `Wait until ${dayWords(until.date)}, ${until.at}; ${past}.`
  const { duration, direction } = until.offset
  const label = findField(until.field)?.label ?? until.field
  const span = durationWords(duration)
  const day = span === 'no time' ? `the ${label}` : `${span} ${direction} the ${label}`
  const hour = until.at === undefined ? '' : `, ${until.at} local time`
  return `Wait until ${day}${hour}; ${past}.`
}

function waitForSentence(
  { event, about, where, limit }: WaitForStep,
  context: WordContext,
): string {
  const whose = about === 'subject' ? ` (this ${subjectKindOf(event)})` : ''
  const like = where ? `, where ${conditionWords(where, context)}` : ''
  const most = durationWords(limit)
  return `Wait until ${EVENT_WORDS[event].happened}${whose}${like}, ${most} at most:`
}

function messageSentence(message: MessageStep, context: WordContext): string {
  const name = `${CHANNELS[message.kind].label} “${message.name || 'unnamed'}”`
  const staff = staffWords(message, context)
  const isMarketing = isToCustomer(message) && message.purpose === 'marketing'
  const purpose = isMarketing ? ', to those who agreed to marketing' : ''
  const only = message.onlyIf ? `, only if ${conditionWords(message.onlyIf, context)}` : ''
  const first = readableTemplate(partsOf(message)[0]?.template ?? '').trim()
  return `${name}${staff}${purpose}${only}${first === '' ? '.' : `: ${first}`}`
}

/** Who of the staff gets it, or a copy of it. */
function staffWords(message: MessageStep, context: WordContext): string {
  const all = (single: readonly string[] = [], groups: readonly string[] = []): string =>
    [...groups.map((key) => context.titleOf?.('groups', key) ?? key), ...single].join(', ')
  switch (message.kind) {
    case 'sms':
      return ''
    case 'note': {
      const staff = all(message.to, message.groups)
      return staff === '' ? '' : ` to ${staff}`
    }
    case 'email': {
      const staff = all(message.copies, message.groups)
      const seen = message.copiesShown ? ' that customers see' : ''
      return staff === '' ? '' : `, with a copy to ${staff}${seen}`
    }
  }
}

function couponSentence(
  { pattern, discount, expiresAfter, minimum, categories }: CouponStep,
  context: WordContext,
): string {
  const worth =
    discount.kind === 'percent'
      ? `${discount.percent} %`
      : formatMoney(discount.amount, context.locale)
  const until = expiresAfter === undefined ? '' : `, valid for ${durationWords(expiresAfter)}`
  const from = minimum ? `, from ${formatMoney(minimum, context.locale)}` : ''
  const on = categories?.length ? `, on ${categories.join(' and ')}` : ''
  return `Issue a coupon of ${worth} (${pattern})${from}${on}${until}.`
}
