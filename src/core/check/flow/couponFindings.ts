import type { Condition } from '../../conditions/condition.ts'
import type { Definition } from '../../workflow/definition.ts'
import { updateStep } from '../../workflow/edit.ts'
import { withoutFormat } from '../../messages/mendTags.ts'
import { usedMergeFields } from '../../messages/mergeFields.ts'
import { changeTexts, partsOf } from '../../workflow/templates.ts'
import { approximateMs, DAY_MS, durationParts } from '../../shared/duration.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isMessage, type CouponStep } from '../../workflow/steps.ts'
import { dependsOnOrders, mayEnterOnce } from './asked.ts'
import { advises, type Finding } from '../finding.ts'
import { changingMessage, ENTER_ONCE } from '../mend.ts'
import { isRecovery } from './practiceFindings.ts'
import { reachedSteps } from './ways.ts'

/** Coupons that cost more than they bring. Common practice; no published source is claimed. */
export function couponFindings(definition: Definition): Finding[] {
  return [...stepFindings(definition), ...dayOnlyFindings(definition)]
}

function stepFindings(definition: Definition): Finding[] {
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

/** Messages that name only the day on which a code ends that lives for hours. */
function dayOnlyFindings(definition: Definition): Finding[] {
  const all = allSteps(definition.steps)
  const isShort = all.some(
    (step) =>
      step.kind === 'coupon' &&
      step.expiresAfter !== undefined &&
      approximateMs(durationParts(step.expiresAfter)) < SHORT_MS,
  )
  if (!isShort) return []
  return all.flatMap((step) => {
    if (!isMessage(step)) return []
    const found = partsOf(step).find(({ template }) =>
      usedMergeFields(template).some(
        ({ key, format }) => key === 'coupon.expires_on' && DAY_FORMATS.has(format ?? ''),
      ),
    )
    if (!found) return []
    const title = `“${step.name}” names the day alone on which the code ends.`
    const detail =
      'It lives less than two days, and ends at an hour of that day. Name the hour as well.'
    const finding = advises('coupon-day-only', { kind: 'step', key: step.key }, title, detail)
    const mend = changingMessage(step.key, (before) =>
      changeTexts(before, (text) => withoutFormat(text, 'coupon.expires_on')),
    )
    return [{ ...finding, part: found.part, repair: { label: 'Name the hour', mend } }]
  })
}

const SHORT_MS = 2 * DAY_MS
const DAY_FORMATS: ReadonlySet<string> = new Set(['day', 'weekday', 'figures'])

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
