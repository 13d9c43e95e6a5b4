import type { Condition } from '../conditions/condition.ts'
import type { Definition } from '../workflow/definition.ts'
import { updateStep } from '../workflow/edit.ts'
import type { CouponStep } from '../workflow/steps.ts'
import { dependsOnOrders, mayEnterOnce } from './asked.ts'
import { advises, type Finding } from './finding.ts'
import { ENTER_ONCE } from './mend.ts'
import { isRecovery } from './practiceFindings.ts'
import { reachedSteps } from './ways.ts'

/** Coupons that cost more than they bring. Common practice; no published source is claimed. */
export function couponFindings(definition: Definition): Finding[] {
  return reachedSteps(definition).flatMap(({ step, asked }) => {
    if (step.kind !== 'coupon') return []
    const toMany = dependsOnOrders(asked, definition) ? [] : toManyFindings(step, definition, asked)
    return [...toMany, ...termFindings(step)]
  })
}

/** Who knows that a coupon follows waits for it. */
function toManyFindings(
  step: CouponStep,
  definition: Definition,
  asked: readonly Condition[],
): Finding[] {
  const { trigger, entry } = definition
  const place = { kind: 'step', key: step.key } as const
  if (isRecovery(definition)) {
    const title = `“${step.name}” goes to people who order often, too.`
    const detail =
      'They learn to leave a basket to get it. Give it to those alone who have never ordered.'
    return [advises('coupon-for-all', place, title, detail)]
  }
  const followsOrders = trigger.kind === 'event' && trigger.event.startsWith('order.')
  if (!followsOrders || entry.rule.kind !== 'every') return []
  const title = `“${step.name}” is given after every order.`
  const detail =
    'Whoever knows it never pays in full again. Give it after the first order only, or let people enter once.'
  const finding = advises('coupon-for-all', place, title, detail)
  // Where a path decides who gets it, their one entry may be used up on another.
  return [mayEnterOnce(asked, definition) ? { ...finding, repair: ENTER_ONCE } : finding]
}

/** A code that anybody can use, or at any time. */
function termFindings(step: CouponStep): Finding[] {
  const place = { kind: 'step', key: step.key } as const
  const changed = (to: Partial<CouponStep>) => (before: Definition) =>
    updateStep(before, step.key, (one) => ({ ...one, ...to }) as CouponStep)
  const findings: Finding[] = []
  if (!step.pattern.includes('#')) {
    const title = `“${step.name}” is one code for all.`
    const detail = 'Such codes are passed on. With # in its pattern everyone gets their own.'
    const finding = advises('coupon-shared', place, title, detail)
    const pattern = `${step.pattern.slice(0, 33)}-######`
    findings.push({
      ...finding,
      repair: { label: 'A code for each person', mend: changed({ pattern }) },
    })
  }
  if (step.expiresAfter === undefined) {
    const title = `“${step.name}” never expires.`
    const detail = 'Nothing makes anybody use it soon, and it is owed for ever. A day is usual.'
    const finding = advises('coupon-unending', place, title, detail)
    const mend = changed({ expiresAfter: 'PT24H' })
    findings.push({ ...finding, repair: { label: 'It expires after 24 hours', mend } })
  }
  return findings
}
