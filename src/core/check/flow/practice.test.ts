import { describe, expect, test } from 'vitest'
import {
  aDefinition,
  anEmail,
  end,
  happened,
  on,
  ordersEver,
  wait,
} from '../../../testing/builders.ts'
import type { Definition } from '../../workflow/definition.ts'
import type { EmailStep, Step } from '../../workflow/steps.ts'
import { crossFindings } from '../shop/crossFindings.ts'
import { practiceFindings } from './practiceFindings.ts'
import { wordingFindings } from '../message/wordingFindings.ts'

const practice = (over: Partial<Definition>) =>
  practiceFindings(aDefinition(over)).map(({ code }) => code)
const wording = (over: Partial<EmailStep>, definition: Partial<Definition> = {}) =>
  wordingFindings(
    aDefinition({ steps: [wait('w', 'P1D'), anEmail('m', over)], ...definition }),
  ).map(({ code }) => code)

const reviewed = [{ key: 'r', when: happened('review.submitted'), effect: 'leave' as const }]
const once = { rule: { kind: 'once' as const }, overlap: 'one' as const }

describe('what practitioners regret', () => {
  test('an unfinished checkout written about every time; the repair sets a limit', () => {
    const definition = aDefinition({ trigger: on('checkout.started') })
    const [finding] = practiceFindings(definition)
    expect(finding?.code).toBe('entry-limit')
    const mended = finding?.repair?.mend(definition)
    expect(mended?.entry).toEqual({ rule: { kind: 'after', duration: 'P30D' }, overlap: 'one' })
    expect(mended && practiceFindings(mended)).toEqual([
      expect.objectContaining({ code: 'one-delay' }),
    ])
  })
  test('one delay for checkouts of every value', () => {
    const trigger = on('checkout.started')
    const steps = [wait('w', 'PT45M'), anEmail('m')]
    expect(practice({ trigger, entry: once, steps })).toEqual(['one-delay'])
    const large = { kind: 'field' as const, field: 'checkout.total', op: 'gte', value: { amountMinor: 15_000, currency: 'EUR' } }
    const branch = { key: 'l', name: 'Large', when: large, steps: [wait('v', 'PT6H'), anEmail('n')] }
    expect(practice({ trigger, entry: once, steps: [{ key: 's', kind: 'split', branches: [branch], otherwise: steps }] })).toEqual([])
    expect(practice({ trigger: { ...trigger, filter: large }, entry: once, steps })).toEqual([])
    expect(practice({ trigger: on('basket.item_added'), entry: once, steps })).toEqual([])
  }) // prettier-ignore
  test('two mails at one moment, but not on two paths', () => {
    expect(practice({ steps: [anEmail('a'), anEmail('b')] })).toEqual(['same-moment'])
    expect(practice({ steps: [anEmail('a'), wait('w', 'PT1H'), anEmail('b')] })).toEqual([])
    const branch = { key: 'x', name: 'X', when: ordersEver(1), steps: [anEmail('a')] }
    const split: Step = { key: 's', kind: 'split', branches: [branch], otherwise: [anEmail('b')] }
    expect(practice({ steps: [split] })).toEqual([])
  })
  test('two mails at one moment of a date, or once it has come', () => {
    const trigger: Definition['trigger'] = { kind: 'date', field: 'subscription.nextPaymentAt', direction: 'before', days: 7, at: '09:00', zone: 'shop' }
    expect(practice({ trigger, steps: [anEmail('a'), anEmail('b')] })).toEqual(['same-moment'])
    const until: Step = { key: 'u', kind: 'until', until: { kind: 'fixed', date: '2026-05-09', at: '09:00' }, ifPast: 'goOn' }
    expect(practice({ steps: [anEmail('a'), until, anEmail('b'), anEmail('c')] })).toEqual(['same-moment'])
    // The evening of the same day is another moment.
    const evening: Step = { key: 'e', kind: 'wait', for: 'P0D', at: '18:00' }
    expect(practice({ steps: [anEmail('a'), evening, anEmail('b')] })).toEqual([])
  }) // prettier-ignore
  test('two mails at one moment where paths meet again after different times', () => {
    const branch = { key: 'x', name: 'X', when: ordersEver(1), steps: [wait('w', 'P1D')] }
    const split: Step = { key: 's', kind: 'split', branches: [branch], otherwise: [] }
    expect(practice({ steps: [split, anEmail('a'), anEmail('b')] })).toEqual(['same-moment'])
  })
})

describe('what messages promise or give away', () => {
  test('a review that is bought, or asked to be good', () => {
    const asks = { trigger: on('order.delivered'), entry: once, exclusions: reviewed }
    expect(wording({ body: 'Leave a review and get 10 % off.', purpose: 'marketing' }, asks)).toEqual(['review-reward'])
    expect(wording({ body: 'Give us a five-star review!' }, asks)).toEqual(['review-score'])
    expect(wording({ body: 'A review helps other beekeepers.' }, { trigger: on('order.delivered') })).toEqual([])
  }) // prettier-ignore
  test('a review before there can be anything to say', () => {
    const asks = { entry: once, exclusions: reviewed }
    expect(wording({ body: 'Write a review?' }, asks)).toEqual(['review-early'])
    const steps = [wait('w', 'P21D'), anEmail('m', { body: 'Write a review?' })]
    expect(wording({}, { ...asks, steps })).toEqual([])
  })
  test('a review asked for again and again, or of those who have written one; the repairs mend it', () => {
    const steps = [wait('w', 'P21D'), anEmail('m', { body: 'Write a review?' })]
    const definition = aDefinition({ steps })
    const findings = wordingFindings(definition)
    expect(findings.map(({ code }) => code)).toEqual(['review-often', 'review-given'])
    const mended = findings.reduce(
      (before, { repair }) => repair?.mend(before) ?? before,
      definition,
    )
    expect(wordingFindings(mended)).toEqual([])
    const fourth = {
      exclusions: reviewed,
      steps,
      trigger: on('order.placed', { filter: ordersEver(4) }),
    }
    expect(wording({}, fourth)).toEqual([])
  })
  test('an automatic payment that those who pay by hand are told of', () => {
    const trigger: Definition['trigger'] = {
      kind: 'date',
      field: 'subscription.nextPaymentAt',
      direction: 'before',
      days: 7,
      at: '09:00',
      zone: 'shop',
    }
    const active = {
      kind: 'field' as const,
      field: 'subscription.status',
      op: 'is',
      value: 'running',
    }
    const definition = aDefinition({
      trigger: { ...trigger, filter: active },
      steps: [anEmail('m', { body: 'It is paid automatically.' })],
    })
    const [finding, ...others] = wordingFindings(definition)
    expect([finding?.code, others]).toEqual(['automatic-charge', []])
    const mended = finding?.repair?.mend(definition)
    expect(mended?.trigger.filter).toEqual({
      kind: 'all',
      of: [active, { kind: 'field', field: 'subscription.automatic', op: 'is', value: true }],
    })
    expect(mended && wordingFindings(mended)).toEqual([])
    expect(wording({ body: 'We will charge your card.' }, { trigger })).toEqual([
      'automatic-charge',
    ])
    expect(wording({ body: 'Your card is fine.' }, { trigger })).toEqual([])
  })
  test('a marketing text that nobody can end', () => {
    const text = (body: string, purpose: 'marketing' | 'transactional'): Step => ({
      key: 't',
      kind: 'sms',
      name: 'T',
      body,
      purpose,
    })
    expect(wording({}, { steps: [text('New combs are in.', 'marketing')] })).toEqual(['no-way-out'])
    expect(
      wording({}, { steps: [text('New combs are in. STOP to end texts', 'marketing')] }),
    ).toEqual([])
    expect(wording({}, { steps: [text('Novos favos. PARAR para terminar', 'marketing')] })).toEqual(
      [],
    )
    expect(wording({}, { steps: [text('Your parcel is here.', 'transactional')] })).toEqual([])
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
    // A letter that says nothing else yet is not signed.
    expect(wording({ sender, body: 'Hello' })).toEqual([])
    expect(wording({ sender: { ...sender, name: 'Tiago at Combwright' }, body: 'Hello\n\nTiago' })).toEqual([])
    expect(wording({ sender, body: 'Hello there, all is well.' })).toEqual([])
  }) // prettier-ignore
  test('thanks by hand within a second', () => {
    const mail = anEmail('m', { body: 'Thank you!', format: 'plain' })
    expect(wording({}, { entry: once, steps: [mail, end('e')] })).toEqual(['instant-thanks'])
    expect(wording({}, { entry: once, steps: [wait('w', 'PT20M'), mail] })).toEqual([])
  })
  test('thanks by hand for every order', () => {
    const mail = anEmail('m', { body: 'Thank you!', format: 'plain' })
    expect(wording({}, { steps: [wait('w', 'PT20M'), mail] })).toEqual(['endless-thanks'])
    const branch = {
      key: 'b',
      name: 'First',
      when: ordersEver(1),
      steps: [wait('w', 'PT20M'), mail],
    }
    const split = (otherwise: Step[]): Step => ({
      key: 's',
      kind: 'split',
      branches: [branch],
      otherwise,
    })
    expect(wording({}, { steps: [split([])] })).toEqual([])
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
  test('mails of two workflows before the same date', () => {
    const before = (days: number, at = '09:00') =>
      aDefinition({
        trigger: { kind: 'date', field: 'subscription.nextPaymentAt', direction: 'before', days, at, zone: 'shop' },
        steps: [anEmail('m', { purpose: 'marketing' })],
      })
    const codes = (definition: Definition) =>
      cross(before(7), { id: 'w4', name: 'Other', definition }).map(({ code }) => code)
    expect(codes(before(7))).toEqual(['clash-w4'])
    expect(codes(before(3))).toEqual([])
    expect(codes(before(7, '10:00'))).toEqual([])
  })
  test('mails of two workflows at one hour of one day, but not where paths with other waits meet', () => {
    const eleven: Step = { key: 'w', kind: 'wait', for: 'P1D', at: '11:00' }
    const of = (...steps: Step[]) => aDefinition({ steps: [...steps, anEmail('m', { purpose: 'marketing' })] })
    const codes = (a: Definition, b: Definition) =>
      cross(a, { id: 'w5', name: 'Other', definition: b }).map(({ code }) => code)
    expect(codes(of(eleven), of(eleven))).toEqual(['clash-w5'])
    expect(codes(of(eleven), of(wait('w', 'P1D')))).toEqual([])
    const branch = { key: 'x', name: 'X', when: ordersEver(1), steps: [wait('v', 'P2D')] }
    const met: Step = { key: 's', kind: 'split', branches: [branch], otherwise: [] }
    expect(codes(of(met), of(met))).toEqual([])
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
