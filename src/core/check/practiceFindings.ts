import { testsIn, type Condition } from '../conditions/condition.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { Definition } from '../workflow/definition.ts'
import { isMessage } from '../workflow/steps.ts'
import { advises, type Finding } from './finding.ts'
import { reachedSteps, type Reached } from './ways.ts'

const RECOVERY: ReadonlySet<EventType> = new Set(['basket.item_added', 'checkout.started'])

/**
 * What practitioners of the trade get wrong and regret: advice, which never stops going live. Common
 * practice; no published source is claimed.
 */
export function practiceFindings(definition: Definition): Finding[] {
  const reached = reachedSteps(definition)
  return [
    ...entryAdvice(definition),
    ...couponAdvice(definition, reached),
    ...togetherAdvice(reached),
    ...statusAdvice(definition),
  ]
}

/** True for workflows about something that was left unfinished. */
export function isRecovery({ trigger }: Definition): boolean {
  return trigger.kind === 'event' && RECOVERY.has(trigger.event)
}

function entryAdvice(definition: Definition): Finding[] {
  if (!isRecovery(definition) || definition.entry.rule.kind !== 'every') return []
  const title = 'The same person can get this series again and again.'
  const detail = 'Thirty days between two entries is usual for unfinished baskets and checkouts.'
  const finding = advises('entry-limit', { kind: 'entry' }, title, detail)
  const mend = (before: Definition): Definition => ({
    ...before,
    entry: { rule: { kind: 'after', duration: 'P30D' }, overlap: 'one' },
  })
  return [{ ...finding, repair: { label: 'Again after 30 days only', mend } }]
}

const asksForOrders = (condition: Condition): boolean =>
  testsIn(condition).some((test) => test.kind === 'history' && test.event === 'order.placed' && test.window.kind !== 'sinceEntry') // prettier-ignore

/** Who knows that a coupon follows leaves the basket to get it. */
function couponAdvice(definition: Definition, reached: readonly Reached[]): Finding[] {
  if (!isRecovery(definition)) return []
  return reached.flatMap(({ step, asked }): Finding[] => {
    if (step.kind !== 'coupon' || asked.some(asksForOrders)) return []
    const title = `“${step.name}” goes to people who order often, too.`
    const detail =
      'They learn to leave a basket to get it. Give it to those alone who have never ordered.'
    return [advises('coupon-for-all', { kind: 'step', key: step.key }, title, detail)]
  })
}

/** Two messages to the customer with no time between them. */
function togetherAdvice(reached: readonly Reached[]): Finding[] {
  const messages = reached.filter(({ step }) => isMessage(step) && step.kind === 'email')
  return messages.flatMap((one, index): Finding[] => {
    const before = messages[index - 1]
    const isTogether =
      before !== undefined &&
      before.afterMs === one.afterMs &&
      !one.byDate &&
      before.asked.length <= one.asked.length &&
      before.asked.every((condition, at) => condition === one.asked[at])
    if (!isTogether || !('name' in one.step) || !('name' in before.step)) return []
    const title = `“${before.step.name}” and “${one.step.name}” reach a person at the same moment.`
    const detail = 'Put a wait between them, or make one message of the two.'
    return [advises('same-moment', { kind: 'step', key: one.step.key }, title, detail)]
  })
}

/** A reminder of a payment that is sent for subscriptions that are cancelled already. */
function statusAdvice({ trigger, exclusions }: Definition): Finding[] {
  if (trigger.kind !== 'date' || !trigger.field.startsWith('subscription.')) return []
  const asked = [trigger.filter, ...exclusions.map(({ when }) => when)].flatMap((condition) =>
    condition ? testsIn(condition) : [],
  )
  const asksStatus = asked.some(
    (test) =>
      (test.kind === 'field' &&
        ['subscription.status', 'subscription.automatic'].includes(test.field)) ||
      (test.kind === 'history' && test.event === 'subscription.status_changed'),
  )
  if (asksStatus) return []
  const title = 'Whoever has cancelled gets this as well.'
  const detail = 'Ask in the filter whether the subscription is active, or renews automatically.'
  return [advises('any-status', { kind: 'trigger' }, title, detail)]
}
