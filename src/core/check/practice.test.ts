import { describe, expect, test } from 'vitest'
import {
  aDefinition,
  anEmail,
  end,
  happened,
  on,
  ordersEver,
  wait,
} from '../../testing/builders.ts'
import type { Definition } from '../workflow/definition.ts'
import type { CouponStep, EmailStep, Step } from '../workflow/steps.ts'
import { crossFindings } from './crossFindings.ts'
import { goLiveFindings } from './goLive.ts'
import { practiceFindings } from './practiceFindings.ts'
import { wordingFindings } from './wordingFindings.ts'

const practice = (over: Partial<Definition>) =>
  practiceFindings(aDefinition(over)).map(({ code }) => code)
const wording = (over: Partial<EmailStep>, definition: Partial<Definition> = {}) =>
  wordingFindings(
    aDefinition({ steps: [wait('w', 'P1D'), anEmail('m', over)], ...definition }),
  ).map(({ code }) => code)

const coupon: CouponStep = {
  key: 'c',
  kind: 'coupon',
  name: 'Ten per cent',
  pattern: 'BEE-######',
  discount: { kind: 'percent', percent: 10 },
}
const once = { rule: { kind: 'once' as const }, overlap: 'one' as const }

describe('what practitioners regret', () => {
  test('an unfinished checkout written about every time; the repair sets a limit', () => {
    const definition = aDefinition({ trigger: on('checkout.started') })
    const [finding] = practiceFindings(definition)
    expect(finding?.code).toBe('entry-limit')
    const mended = finding?.repair?.mend(definition)
    expect(mended?.entry).toEqual({ rule: { kind: 'after', duration: 'P30D' }, overlap: 'one' })
    expect(mended && practiceFindings(mended)).toEqual([])
  })
  test('a coupon that teaches people to leave their basket', () => {
    const trigger = on('checkout.started')
    expect(practice({ trigger, entry: once, steps: [coupon] })).toEqual(['coupon-for-all'])
    const branch = { key: 'b', name: 'New', when: ordersEver(0), steps: [coupon] }
    const split: Step = { key: 's', kind: 'split', branches: [branch], otherwise: [] }
    expect(practice({ trigger, entry: once, steps: [split] })).toEqual([])
  })
  test('two mails at one moment, but not on two paths', () => {
    expect(practice({ steps: [anEmail('a'), anEmail('b')] })).toEqual(['same-moment'])
    expect(practice({ steps: [anEmail('a'), wait('w', 'PT1H'), anEmail('b')] })).toEqual([])
    const branch = { key: 'x', name: 'X', when: ordersEver(1), steps: [anEmail('a')] }
    const split: Step = { key: 's', kind: 'split', branches: [branch], otherwise: [anEmail('b')] }
    expect(practice({ steps: [split] })).toEqual([])
  })
  test('a payment reminder for those who have cancelled', () => {
    const trigger: Definition['trigger'] = { kind: 'date', field: 'subscription.nextPaymentAt', direction: 'before', days: 7, at: '09:00', zone: 'shop' }
    expect(practice({ trigger })).toEqual(['any-status'])
    const filter = { kind: 'field' as const, field: 'subscription.automatic', op: 'is', value: true }
    expect(practice({ trigger: { ...trigger, filter } })).toEqual([])
  }) // prettier-ignore
  test('a missing exclusion is put in by its repair', () => {
    const definition = aDefinition({ steps: [wait('w', 'P1D'), anEmail('m')] })
    const mended = goLiveFindings(definition).reduce(
      (before, { repair }) => repair?.mend(before) ?? before,
      definition,
    )
    expect(mended.exclusions.map(({ when }) => when)).toEqual([
      happened('order.cancelled'),
      happened('order.refunded'),
    ])
    expect(goLiveFindings(mended)).toEqual([])
  })
})

describe('what messages promise or give away', () => {
  test('a review that is bought, or asked to be good', () => {
    expect(wording({ body: 'Leave a review and get 10 % off.', purpose: 'marketing' }, { trigger: on('order.delivered') })).toEqual(['review-reward'])
    expect(wording({ body: 'Give us a five-star review!' }, { trigger: on('order.delivered') })).toEqual(['review-score'])
    expect(wording({ body: 'A review helps other beekeepers.' }, { trigger: on('order.delivered') })).toEqual([])
  }) // prettier-ignore
  test('a review before there can be anything to say', () => {
    expect(wording({ body: 'Write a review?' })).toEqual(['review-early'])
    const steps = [wait('w', 'P21D'), anEmail('m', { body: 'Write a review?' })]
    expect(wording({}, { steps })).toEqual([])
  })
  test('“expires” where a payment is due', () => {
    const trigger: Definition['trigger'] = { kind: 'date', field: 'subscription.nextPaymentAt', direction: 'before', days: 7, at: '09:00', zone: 'shop' }
    expect(wording({ body: 'Your plan expires soon.' }, { trigger })).toEqual(['expires'])
    expect(wording({ body: 'Your plan expires soon.' }, { trigger: { ...trigger, field: 'subscription.endsAt' } })).toEqual([])
  }) // prettier-ignore
  test('an offer in a message that needs no consent', () => {
    expect(wording({ body: 'Take 15% off your next one.' })).toEqual(['sales-in-transactional'])
    expect(wording({ body: 'Your code: {{ coupon.code }}' })).toEqual(['sales-in-transactional'])
    expect(wording({ body: 'Take 15% off.', purpose: 'marketing' })).toEqual([])
  })
  test('one who writes and another who signs', () => {
    const sender = { name: 'Combwright', address: 'hello@combwright.example' }
    expect(wording({ sender, body: 'Hello\n\nTiago' })).toEqual(['signature'])
    expect(wording({ sender: { ...sender, name: 'Tiago at Combwright' }, body: 'Hello\n\nTiago' })).toEqual([])
    expect(wording({ sender, body: 'Hello there, all is well.' })).toEqual([])
  }) // prettier-ignore
  test('thanks by hand within a second', () => {
    const mail = anEmail('m', { body: 'Thank you!', format: 'plain' })
    expect(wording({}, { steps: [mail, end('e')] })).toEqual(['instant-thanks'])
    expect(wording({}, { steps: [wait('w', 'PT20M'), mail] })).toEqual([])
  })
})

describe('what several workflows do to one person', () => {
  const basket = aDefinition({ trigger: on('basket.item_added'), entry: once })
  const checkout = { id: 'w2', name: 'Open checkout', definition: aDefinition({ trigger: on('checkout.started'), entry: once }) }
  const cross = (definition: Definition, ...others: Parameters<typeof crossFindings>[2]) =>
    crossFindings(definition, 'w1', others)

  test('a basket and a checkout that do not know of each other; the repair lets one know', () => {
    const [finding] = cross(basket, checkout)
    expect(finding?.code).toBe('both-w2')
    const mended = finding?.repair?.mend(basket)
    expect(mended?.exclusions).toHaveLength(1)
    expect(mended && cross(mended, checkout)).toEqual([])
    const leaves = [{ key: 'x', when: happened('checkout.started'), effect: 'leave' as const }]
    expect(cross({ ...basket, exclusions: leaves }, checkout)).toEqual([])
  })
  test('mails of two workflows at one moment, one of them marketing', () => {
    const total = (op: string) => ({ kind: 'field' as const, field: 'order.total', op, value: { amountMinor: 5000, currency: 'EUR' } })
    const of = (purpose: EmailStep['purpose'], filter?: ReturnType<typeof total>) =>
      aDefinition({ trigger: on('order.placed', filter && { filter }), steps: [wait('w', 'P1D'), anEmail('m', { purpose })] })
    const other = (definition: Definition) => ({ id: 'w3', name: 'Other', definition })
    const codes = (a: Definition, b: Definition) => cross(a, other(b)).map(({ code }) => code)
    expect(codes(of('marketing'), of('transactional'))).toEqual(['clash-w3'])
    expect(codes(of('transactional'), of('transactional'))).toEqual([])
    expect(codes(of('marketing', total('gte')), of('marketing', total('lt')))).toEqual([])
  })
}) // prettier-ignore
