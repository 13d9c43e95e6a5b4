import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, beforePayment, on, wait } from '../../../testing/builders.ts'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { happenings, shopRules } from '../../../testing/model/happenings.ts'
import { interpret } from '../../../testing/model/inMemory.ts'
import type { Condition, HistoryCondition } from '../../conditions/condition.ts'
import type { Definition } from '../../workflow/definition.ts'
import type { Step } from '../../workflow/steps.ts'
import { crossFindings } from '../shop/crossFindings.ts'
import { goLiveFindings } from '../goLive.ts'
import { noticeStates } from '../shop/notices.ts'

const codes = (definition: Definition) => goLiveFindings(definition).map(({ code }) => code)
const found = (definition: Definition, code: string) =>
  goLiveFindings(definition).find((one) => one.code === code)
const happenedTo = (event: HistoryCondition['event'], over: Partial<HistoryCondition> = {}): HistoryCondition => ({
  kind: 'history',
  event,
  about: 'subject',
  count: { op: 'atLeast', times: 1 },
  window: { kind: 'sinceEntry' },
  ...over,
}) // prettier-ignore
const leaves = (when: Condition) => [{ key: 'x', when, effect: 'leave' as const }]
const fulfilled = (over: Partial<Definition>) => aDefinition({ trigger: on('order.fulfilled'), ...over }) // prettier-ignore

describe('counts of the wrong thing', () => {
  test('that this order was placed since entry can never hold; any order is meant', () => {
    const definition = fulfilled({ exclusions: leaves(happenedTo('order.placed')) })
    const finding = found(definition, 'never-since-entry')
    expect(finding).toMatchObject({ severity: 'error', place: { kind: 'exclusions' } })
    const mended = finding?.repair?.mend(definition)
    expect(mended?.exclusions[0]?.when).toMatchObject({ about: 'customer' })
    expect(codes(mended ?? definition)).not.toContain('never-since-entry')
    expect(codes(fulfilled({ exclusions: leaves(happenedTo('order.refunded')) }))).not.toContain('never-since-entry') // prettier-ignore
  })
  test('“only if an order was ever fulfilled” holds of an old one', () => {
    const onlyIf = happenedTo('order.fulfilled', { about: 'customer', window: { kind: 'ever' } })
    const definition = aDefinition({ steps: [wait('w', 'P3D'), anEmail('m', { onlyIf })] })
    const finding = found(definition, 'older-order')
    expect(finding?.severity).toBe('warning')
    expect(codes(finding?.repair?.mend(definition) ?? definition)).not.toContain('older-order')
  })
  test('nothing lies between two currencies', () => {
    const filter: Condition = { kind: 'field', field: 'order.total', op: 'between', value: { from: { amountMinor: 0, currency: 'EUR' }, to: { amountMinor: 9000, currency: 'GBP' } } } // prettier-ignore
    expect(codes(aDefinition({ trigger: on('order.placed', { filter }) }))).toContain('two-currencies') // prettier-ignore
  })
  test('what a trigger can never know is said; what it can is not', () => {
    const filter = (field: string, value: number | string[]): Condition => ({ kind: 'field', field, op: typeof value === 'number' ? 'gte' : 'in', value }) // prettier-ignore
    const renewal = (condition: Condition) => aDefinition({ trigger: on('subscription.renewed', { filter: condition }) }) // prettier-ignore
    expect(codes(renewal(filter('line.quantity', 2)))).toContain('no-quantity')
    expect(codes(renewal(filter('line.product', ['p1']))).filter((code) => code.startsWith('no-'))).toEqual([]) // prettier-ignore
  })
})

describe('false alarms that there were', () => {
  const review = anEmail('ask', { subject: 'How is it?', body: 'Would you write a review?', purpose: 'marketing' }) // prettier-ignore
  test('a review asked for on the exact fourth dispatch is not asked for again and again', () => {
    const fourth = happenedTo('order.fulfilled', { about: 'customer', window: { kind: 'ever' }, count: { op: 'exactly', times: 4 } }) // prettier-ignore
    const split: Step = { key: 's', kind: 'split', branches: [{ key: 'b', name: 'Fourth', when: fourth, steps: [wait('w', 'P9D'), review] }], otherwise: [] } // prettier-ignore
    expect(codes(fulfilled({ steps: [split] }))).not.toContain('review-often')
    expect(codes(fulfilled({ steps: [wait('w', 'P9D'), review] }))).toContain('review-often')
  })
  test('the date that starts a workflow, and when a code ends that always does, are known of everyone', () => {
    const body = 'Due {{ subscription.next_payment_on }}'
    expect(codes(aDefinition({ trigger: beforePayment(), steps: [anEmail('m', { body })] }))).not.toContain('field-subscription.next_payment_on') // prettier-ignore
    const coupon: Step = { key: 'c', kind: 'coupon', name: 'C', pattern: 'BEE-######', discount: { kind: 'percent', percent: 10 }, expiresAfter: 'P3D' } // prettier-ignore
    const shows = anEmail('m', { purpose: 'marketing', body: '{{ coupon.code }} until {{ coupon.expires_on }}' }) // prettier-ignore
    expect(codes(aDefinition({ steps: [coupon, shows] }))).not.toContain('field-coupon.expires_on')
    const { expiresAfter: _never, ...endless } = coupon
    expect(codes(aDefinition({ steps: [endless, shows] }))).toContain('field-coupon.expires_on')
  })
  test('a note may name what is not known of everyone', () => {
    const note: Step = { key: 'n', kind: 'note', name: 'Call', to: ['care@combwright.example'], subject: 'Call {{ customer.first_name }}', body: '{{ order.back_office_url }}' } // prettier-ignore
    expect(codes(aDefinition({ steps: [note] })).filter((code) => code.startsWith('field-'))).toEqual([]) // prettier-ignore
  })
  test('what is sent for certain products is not the shop’s own notice', () => {
    const filter: Condition = { kind: 'lines', on: 'subject', how: 'some', of: [{ kind: 'field', field: 'line.product', op: 'in', value: ['p1'] }] } // prettier-ignore
    const access = { id: 'w', name: 'Access', definition: aDefinition({ trigger: on('order.paid', { filter }) }) } // prettier-ignore
    expect(noticeStates({}, [access]).find(({ key }) => key === 'payment-received')).toMatchObject({ trouble: null, candidates: [] }) // prettier-ignore
  })
  test('workflows that meet at several moments are told of once', () => {
    const steps = [anEmail('a', { purpose: 'marketing' }), wait('w', 'P1D'), anEmail('b', { purpose: 'marketing' })] // prettier-ignore
    const one = aDefinition({ steps })
    const clashes = crossFindings(one, 'one', [{ id: 'two', name: 'Two', definition: one }]).filter(({ code }) => code.startsWith('clash')) // prettier-ignore
    expect(clashes).toHaveLength(1)
    expect(clashes[0]?.title).toContain('1 more')
  })
})

describe('what tests and words get wrong by an hour', () => {
  const arm = (key: string, duration: string) => ({ key, name: key, weight: 1, steps: [wait(`${key}-w`, duration), anEmail(`${key}-m`)] }) // prettier-ignore
  const delays = (second: string): Step => ({ key: 'x', kind: 'experiment', name: 'How soon', lottery: 'd', arms: [arm('a', 'PT1H'), arm('b', second)] }) // prettier-ignore
  const next: Step = { key: 'next', kind: 'wait', for: 'P1D', at: '11:00' }
  test('arms that drift apart by a wait to an hour are told of, and counted by the calendar', () => {
    const definition = aDefinition({ steps: [delays('PT5H'), next, anEmail('last')] })
    const finding = found(definition, 'arms-drift')
    expect(finding).toMatchObject({ place: { key: 'next' } })
    const mended = finding?.repair?.mend(definition) ?? definition
    expect(mended.steps[1]).toMatchObject({ onDay: true })
    expect(codes(mended)).not.toContain('arms-drift')
    expect(codes(aDefinition({ steps: [delays('PT1H'), next] }))).not.toContain('arms-drift')
  })
  test('a code that ends within hours names its hour', () => {
    const coupon: Step = { key: 'c', kind: 'coupon', name: 'C', pattern: 'BEE-######', discount: { kind: 'percent', percent: 10 }, expiresAfter: 'PT30H' } // prettier-ignore
    const says = (body: string) => aDefinition({ steps: [coupon, anEmail('m', { purpose: 'marketing', body })] }) // prettier-ignore
    const definition = says('{{ coupon.code }} until {{ coupon.expires_on | as: "weekday" }}')
    const finding = found(definition, 'coupon-day-only')
    expect(codes(finding?.repair?.mend(definition) ?? definition)).not.toContain('coupon-day-only')
    expect(codes(says('{{ coupon.code }} until {{ coupon.expires_on }}'))).not.toContain('coupon-day-only') // prettier-ignore
  })
  test('options of a merge field are parted by bars: behind a comma they would be lost', () => {
    const body = 'Soon: {{ order.first_date_on | as: "weekday", default: "soon" }}'
    const definition = aDefinition({ steps: [anEmail('m', { body })] })
    const finding = found(definition, 'merge-options')
    expect(finding?.severity).toBe('error')
    expect(finding?.repair?.mend(definition).steps[0]).toMatchObject({
      body: 'Soon: {{ order.first_date_on | as: "weekday" | default: "soon" }}',
    })
  })
})

/** Whom each message reached at least once. */
const gotIn = (definition: Definition, list: Parameters<typeof interpret>[1], rules: Parameters<typeof interpret>[2]) =>
  new Set(interpret(definition, list, rules).flatMap(({ decision }) => (decision.kind === 'sends' ? [decision.step] : []))) // prettier-ignore

test('letting everybody in once, where it is offered, takes no message from anybody (property, against the past)', () => {
  let offered = 0
  const asking = definitions.map((definition): Definition => ({
    ...definition,
    trigger: { ...definition.trigger, kind: 'event', event: 'order.placed', per: 'order' },
    entry: { rule: { kind: 'every' }, overlap: 'allow' },
    exclusions: [],
    steps: [anEmail('ask', { subject: 'How is it?', body: 'Would you write a review?' }), ...definition.steps],
  })) // prettier-ignore
  fc.assert(
    fc.property(asking, happenings, shopRules, (definition, list, rules) => {
      for (const { code, repair } of goLiveFindings(definition)) {
        if (code !== 'review-often' || !repair) continue
        offered += 1
        expect(gotIn(repair.mend(definition), list, rules).has('ask')).toBe(gotIn(definition, list, rules).has('ask')) // prettier-ignore
      }
    }),
    { numRuns: 300 },
  )
  expect(offered).toBeGreaterThan(20)
})
