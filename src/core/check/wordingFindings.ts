import { bodyText, templatesOf } from '../messages/templates.ts'
import { readableTemplate, usedMergeFields } from '../messages/mergeFields.ts'
import { DAY_MS } from '../shared/duration.ts'
import type { Definition } from '../workflow/definition.ts'
import { isMessage, type EmailStep, type MessageStep } from '../workflow/steps.ts'
import { advises, type Finding } from './finding.ts'
import { reachedSteps, type Reached } from './ways.ts'

type CustomerMessage = Exclude<MessageStep, { kind: 'note' }>

/** A habit of wording, and what it costs. Common practice of the trade. */
interface Habit {
  code: string
  is: (text: string, message: CustomerMessage, reached: Reached, definition: Definition) => boolean
  title: (name: string) => string
  detail: string
}

const ASKS_FOR_REVIEW =
  /\b(write|leave|give|post|submit|share|add)\b[^.?!]{0,40}\breviews?\b|\breview (it|us|your|this)\b|\brate (it|us|your)\b/i
const REWARD = /\b(coupon|discount|voucher|reward|gift|free|prize)\b|\d+\s?%/i
const GOOD_SCORE = /\b(five|5)[\s-]?stars?\b|\bgood (review|rating)\b|\bpositive review\b/i
const SALES = /\b(discount|sale|special offer|buy (one|now)|save \d)|\d+\s?% off/i
const EXPIRES = /\bexpires?\b|\bexpir(y|ing|ation)\b/i
const SOON_MS = 14 * DAY_MS

const HABITS: readonly Habit[] = [
  {
    code: 'review-reward',
    is: (text) => ASKS_FOR_REVIEW.test(text) && REWARD.test(text),
    title: (name) => `${name} asks for a review and promises something.`,
    detail: 'A review that was paid for is worth nothing, and is forbidden in many places. Ask without a reward.',
  },
  {
    code: 'review-score',
    is: (text) => ASKS_FOR_REVIEW.test(text) && GOOD_SCORE.test(text),
    title: (name) => `${name} asks for a good score.`,
    detail: 'Ask what they think, whatever it is.',
  },
  {
    code: 'review-early',
    is: (text, _message, { afterMs, byDate }, { trigger }) =>
      ASKS_FOR_REVIEW.test(text) && !byDate && afterMs < SOON_MS && trigger.kind === 'event' &&
      (trigger.event === 'order.placed' || trigger.event === 'order.paid'),
    title: (name) => `${name} asks for a review before the parcel may have come.`,
    detail: 'Start from the dispatch and wait one to three weeks, or wait about three weeks from the order.',
  },
  {
    code: 'expires',
    is: (text, _message, _reached, { trigger }) =>
      EXPIRES.test(text) && trigger.kind === 'date' && trigger.field === 'subscription.nextPaymentAt',
    title: (name) => `${name} says “expires”, but a payment is due.`,
    detail: 'Say when how much is taken, by which method, and how to change it.',
  },
  {
    code: 'sales-in-transactional',
    is: (text, message) =>
      message.purpose === 'transactional' && (SALES.test(text) || usesCoupon(message)),
    title: (name) => `${name} sells something, and is called transactional.`,
    detail: 'It would go to people who never agreed to marketing. Take the offer out, or make it marketing.',
  },
  {
    code: 'signature',
    is: (_text, message) => message.kind === 'email' && signsAsAnother(message),
    title: (name) => `${name} comes from one name and is signed by another.`,
    detail: 'Let the sender’s name be the name that signs.',
  },
  {
    code: 'instant-thanks',
    is: (text, message, { afterMs }, { trigger }) =>
      message.kind === 'email' && message.format === 'plain' && /\bthank/i.test(text) && afterMs === 0 &&
      trigger.kind === 'event' && trigger.event === 'order.placed',
    title: (name) => `${name} is written as by hand, and comes within a second.`,
    detail: 'Wait about twenty minutes, as somebody would who writes it.',
  },
] // prettier-ignore

/** What the words of the messages promise or give away, against when and to whom they go. */
export function wordingFindings(definition: Definition): Finding[] {
  return reachedSteps(definition).flatMap((reached) => {
    const { step } = reached
    if (!isMessage(step) || step.kind === 'note') return []
    const text = textOf(step)
    return HABITS.filter((habit) => habit.is(text, step, reached, definition)).map((habit) =>
      advises(
        habit.code,
        { kind: 'step', key: step.key },
        habit.title(`“${step.name}”`),
        habit.detail,
      ),
    )
  })
}

function textOf(message: CustomerMessage): string {
  if (message.kind === 'sms') return readableTemplate(message.body)
  return readableTemplate(`${message.subject}\n${message.previewText}\n${bodyText(message)}`)
}

const usesCoupon = (message: CustomerMessage): boolean =>
  templatesOf(message)
    .flatMap(usedMergeFields)
    .some(({ key }) => key.startsWith('coupon.'))

/** The last short line of a letter signs it: one or two capitalised words. */
function signsAsAnother(message: EmailStep): boolean {
  const { sender } = message
  const last = bodyText(message).trim().split('\n').at(-1)?.trim() ?? ''
  const first = /^(\p{Lu}\p{L}+)(\s(and|&)?\s?\p{Lu}?\p{L}*)?$/u.exec(last)?.[1]
  return first !== undefined && !sender.name.toLowerCase().includes(first.toLowerCase())
}
