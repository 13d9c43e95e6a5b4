import type { Condition } from '../../conditions/condition.ts'
import { blocksOf, templatesOf, type MessagePart } from '../../workflow/templates.ts'
import { paragraphText } from '../../blocks/blocks.ts'
import { usedMergeFields } from '../../messages/mergeFields.ts'
import { saysHowToStop } from '../../messages/optOut.ts'
import { DAY_MS } from '../../shared/duration.ts'
import type { Definition } from '../../workflow/definition.ts'
import { type EmailStep, isToCustomer, type CustomerMessageStep } from '../../workflow/steps.ts'
import { asksFor, dependsOnOrders, eventsIn, mayEnterOnce, rulesOf } from '../flow/asked.ts'
import { asksForReview, textOf } from './customerText.ts'
import { leavesOn } from '../flow/exclusionFindings.ts'
import { advises, type Finding, type Repair } from '../finding.ts'
import { changingMessage, ENTER_ONCE, waitingBefore } from '../mend.ts'
import { reachedSteps, type Reached } from '../flow/ways.ts'

/** A habit of wording, and what it costs. Common practice of the trade. */
interface Habit {
  code: string
  is: (
    text: string,
    message: CustomerMessageStep,
    reached: Reached,
    definition: Definition,
  ) => boolean
  title: (name: string) => string
  detail: string
  part?: MessagePart
  repair?: (message: CustomerMessageStep, reached: Reached, definition: Definition) => Repair | null
}

const REWARD = /\b(coupon|discount|voucher|reward|gift|free|prize)\b|\d+\s?%/i
const GOOD_SCORE = /\b(five|5)[\s-]?stars?\b|\bgood (review|rating)\b|\bpositive review\b/i
const SALES = /\b(discount|sale|special offer|buy (one|now)|save \d)|\d+\s?% off/i
const EXPIRES = /\bexpires?\b|\bexpir(y|ing|ation)\b/i
const THANKS = /\bthank/i
const AUTOMATIC =
  /\bautomatic(ally)?\b|\bwill (be )?(charged?|debit(ed)?)\b|\bwe (will )?(charge|debit|take)\b/i
const SOON_MS = 14 * DAY_MS
/** How long after an order a review is usually asked for, in days. */
const USUAL_DAYS = 21

const HABITS: readonly Habit[] = [
  {
    code: 'review-reward',
    is: (text) => asksForReview(text) && REWARD.test(text),
    title: (name) => `${name} asks for a review and promises something.`,
    detail: 'A review that was paid for is worth nothing, and is forbidden in many places. Ask without a reward.',
  },
  {
    code: 'review-score',
    is: (text) => asksForReview(text) && GOOD_SCORE.test(text),
    title: (name) => `${name} asks for a good score.`,
    detail: 'Ask what they think, whatever it is.',
  },
  {
    code: 'review-early',
    is: (text, _message, { afterMs, byDate }, { trigger }) =>
      asksForReview(text) && !byDate && afterMs < SOON_MS && trigger.kind === 'event' &&
      (trigger.event === 'order.placed' || trigger.event === 'order.paid'),
    title: (name) => `${name} asks for a review before the parcel may have come.`,
    detail: 'Start from the dispatch and wait one to three weeks, or wait about three weeks from the order.',
    repair: ({ key }, { afterMs }) => {
      const days = USUAL_DAYS - Math.floor(afterMs / DAY_MS)
      return { label: `Wait ${days} ${afterMs < DAY_MS ? '' : 'more '}days before it`, mend: waitingBefore(key, `P${days}D`) }
    },
  },
  {
    code: 'review-often',
    is: (text, _message, { asked }, definition) =>
      asksForReview(text) && definition.entry.rule.kind === 'every' && !dependsOnOrders(asked, definition),
    title: (name) => `${name} asks the same person for a review again and again.`,
    detail: 'Once is usual, or after one certain order, like the fourth.',
    repair: (_message, { asked }, definition) => (mayEnterOnce(asked, definition) ? ENTER_ONCE : null),
  },
  {
    code: 'review-given',
    is: (text, _message, { afterMs, byDate }, { exclusions }) =>
      asksForReview(text) && (afterMs > 0 || byDate) &&
      !exclusions.some(({ when }) => eventsIn(when).includes('review.submitted')),
    title: (name) => `${name} asks for a review of those who have just written one.`,
    detail: 'They may have done so while they were waiting for this.',
    repair: () => ({
      label: 'Leave when a review has come',
      mend: (before) => leavesOn(before, 'review.submitted'),
    }),
  },
  {
    code: 'automatic-charge',
    is: (text, _message, { asked }, definition) =>
      AUTOMATIC.test(text) && definition.trigger.kind === 'date' &&
      definition.trigger.field === 'subscription.nextPaymentAt' &&
      !asksFor([...asked, ...rulesOf(definition)], 'subscription.automatic'),
    title: (name) => `${name} speaks of an automatic payment, and goes to those who pay by hand, too.`,
    detail: 'They would wait for something that does not happen.',
    repair: () => ({ label: 'Only those that renew automatically', mend: onlyAutomatic }),
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
    part: { kind: 'envelope' },
    is: (text, message) =>
      message.purpose === 'transactional' && (SALES.test(text) || usesCoupon(message)),
    title: (name) => `${name} sells something, and is called transactional.`,
    detail: 'It would go to people who never agreed to marketing. Take the offer out, or make it marketing.',
    repair: ({ key }) => ({
      label: 'Make it marketing',
      mend: changingMessage(key, (before) => (isToCustomer(before) ? { ...before, purpose: 'marketing' } : before)),
    }),
  },
  {
    code: 'signature',
    part: { kind: 'envelope' },
    is: (_text, message) => message.kind === 'email' && signsAsAnother(message),
    title: (name) => `${name} comes from one name and is signed by another.`,
    detail: 'Let the sender’s name be the name that signs.',
    repair: (message) => {
      const { key } = message
      const name = message.kind === 'email' ? signatureOf(message) : null
      if (name === null) return null
      const mend = changingMessage(key, (before) => (before.kind === 'email' ? { ...before, sender: { ...before.sender, name } } : before))
      return { label: `Send it as ${name}`, mend }
    },
  },
  {
    code: 'instant-thanks',
    is: (text, message, { afterMs }, { trigger }) =>
      message.kind === 'email' && message.format === 'plain' && THANKS.test(text) && afterMs === 0 &&
      trigger.kind === 'event' && trigger.event === 'order.placed',
    title: (name) => `${name} is written as by hand, and comes within a second.`,
    detail: 'Wait about twenty minutes, as somebody would who writes it.',
    repair: ({ key }) => ({ label: 'Wait 20 minutes before it', mend: waitingBefore(key, 'PT20M') }),
  },
  {
    code: 'endless-thanks',
    is: (text, message, { asked }, definition) =>
      message.kind === 'email' && message.format === 'plain' && THANKS.test(text) && startsByOrder(definition) &&
      definition.entry.rule.kind === 'every' && !dependsOnOrders(asked, definition),
    title: (name) => `${name} is written as by hand, and comes after every order.`,
    detail: 'Nobody believes it the fifth time. Thank for the first and the second order, and let the others leave.',
  },
  {
    code: 'no-way-out',
    part: { kind: 'text' },
    is: (text, message) => message.kind === 'sms' && message.purpose === 'marketing' && !saysHowToStop(text),
    title: (name) => `${name} does not say how to end such texts.`,
    detail: 'A mail has its link by itself; a text message has to say it. “STOP to end texts” is enough.',
    repair: ({ key }) => ({
      label: 'Add “STOP to end texts”',
      mend: changingMessage(key, (before) => ({ ...before, body: `${before.body.trimEnd()} STOP to end texts` })),
    }),
  },
] // prettier-ignore

const startsByOrder = ({ trigger }: Definition): boolean =>
  trigger.kind === 'event' && (trigger.event === 'order.placed' || trigger.event === 'order.paid')

/** What the words of the messages promise or give away, against when and to whom they go. */
export function wordingFindings(definition: Definition): Finding[] {
  return reachedSteps(definition).flatMap((reached) => {
    const { step } = reached
    if (!isToCustomer(step)) return []
    const text = textOf(step)
    const place = { kind: 'step', key: step.key } as const
    return HABITS.filter((habit) => habit.is(text, step, reached, definition)).map(
      ({ code, part, title, detail, repair: repairFor }) => {
        const repair = repairFor?.(step, reached, definition)
        return {
          ...advises(code, place, title(`“${step.name}”`), detail),
          ...(part && { part }),
          ...(repair && { repair }),
        }
      },
    )
  })
}

/** The workflow for those only who are charged without doing anything. */
function onlyAutomatic(definition: Definition): Definition {
  const { trigger } = definition
  const automatic: Condition = {
    kind: 'field',
    field: 'subscription.automatic',
    op: 'is',
    value: true,
  }
  const filter: Condition = trigger.filter
    ? { kind: 'all', of: [trigger.filter, automatic] }
    : automatic
  return { ...definition, trigger: { ...trigger, filter } }
}

const usesCoupon = (message: CustomerMessageStep): boolean =>
  templatesOf(message)
    .flatMap(usedMergeFields)
    .some(({ key }) => key.startsWith('coupon.'))

/** The name that signs a mail: its last short line, one or two capitalised words under what else it says. */
function signatureOf(message: EmailStep): string | null {
  const [, ...below] = written(message).trim().split('\n')
  const last = below.at(-1)?.trim() ?? ''
  return /^\p{Lu}\p{L}+(\s(and|&)?\s?\p{Lu}?\p{L}*)?$/u.test(last) ? last : null
}

/** What somebody may sign: not the words on a button. */
function written(message: EmailStep): string {
  if (message.format !== 'designed') return message.body
  const text = blocksOf(message).findLast((block) => block.kind === 'text')
  return text ? paragraphText(text.text) : ''
}

function signsAsAnother(message: EmailStep): boolean {
  const first = signatureOf(message)?.split(/\s/)[0]
  return first !== undefined && !message.sender.name.toLowerCase().includes(first.toLowerCase())
}
