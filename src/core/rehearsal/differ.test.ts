import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, happened, on, ordersEver, wait } from '../../testing/builders.ts'
import { facts } from '../../testing/coreFacts.ts'
import type { Condition } from '../conditions/condition.ts'
import type { Definition } from '../workflow/definition.ts'
import { HAPPENINGS, subjectSchema, type Subject } from '../workflow/rehearsalSubject.ts'
import { changeWords, differenceWords } from '../words/differWords.ts'
import { leastChanges, type Difference, type Question } from './differ.ts'
import { rehearse } from './rehearse.ts'
import { stopsOf } from './story.ts'
import { changed } from './subjectChanges.ts'

const SHOP = facts().shop
const LINES = [
  { productId: 'p1', title: 'Hive', category: 'Hives', quantity: 1, unitPriceMinor: 18_900 },
  { productId: 'p2', title: 'Bee brush', category: 'Tools', quantity: 1, unitPriceMinor: 750 },
]
const subject = (over: Partial<Subject> = {}, customer: Partial<Subject['customer']> = {}) =>
  subjectSchema.parse({
    at: '2026-04-14T10:05:00Z',
    customer: { firstName: 'Marta', country: 'PT', zone: null, emailConsent: true, smsConsent: null, hasPhone: false, tags: [], ...customer },
    earlier: [],
    lines: LINES.slice(0, 1),
    stars: 5,
    dateInDays: 30,
    between: [],
    ...over,
  }) // prettier-ignore

function differ(question: Question): Difference {
  const search = leastChanges(question)
  let step = search.next()
  while (!step.done) step = search.next()
  return step.value
}
const ask = (definition: Definition, one: Subject, step: string): Difference =>
  differ({ definition, subject: one, step, products: LINES, shop: SHOP })
const words = (found: Difference, definition: Definition) =>
  found.alone.map((one) => changeWords(one, definition))

const isSent = (definition: Definition, one: Subject, step: string): boolean =>
  stopsOf(definition, rehearse(definition, one, SHOP)).get(step)?.kind === 'sent'

const letter = aDefinition({
  trigger: on('order.placed'),
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [wait('w', 'P3D'), anEmail('letter', { purpose: 'marketing' })],
})

describe('what would have to differ', () => {
  test('without consent, consent alone', () => {
    const found = ask(letter, subject({}, { emailConsent: null }), 'letter')
    expect(found.isSent).toBe(false)
    expect(words(found, letter)).toEqual([
      'with consent to marketing by email',
      'with “says yes to marketing” 5 minutes after the beginning',
    ])
    expect(differenceWords(found)).toBe('They would get it with any one of these, all else as it is:') // prettier-ignore
  })

  test('after a refund, that it had not been', () => {
    const refunded = { key: 'r', what: 'refunded' as const, afterMinutes: 1440 }
    const found = ask(letter, subject({ between: [refunded] }), 'letter')
    expect(words(found, letter)).toEqual(['without “refunded” 24 hours after the beginning'])
  })

  test('with both in the way, both together', () => {
    const refunded = { key: 'r', what: 'refunded' as const, afterMinutes: 1440 }
    const found = ask(letter, subject({ between: [refunded] }, { emailConsent: false }), 'letter')
    expect(found.alone).toEqual([])
    expect(found.pairs[0]?.map((one) => one.what).toSorted()).toEqual(['consent', 'without'])
    expect(differenceWords(found)).toContain('with both')
  })

  test('who does not come in is told what would let them', () => {
    const second = aDefinition({ ...letter, trigger: on('order.placed', { filter: ordersEver(2) }) }) // prettier-ignore
    expect(words(ask(second, subject(), 'letter'), second)).toEqual([
      'with 1 earlier order',
      'with “orders again” 5 minutes after the beginning',
    ])
  })

  test('of who gets it, what would have kept it back', () => {
    const found = ask(letter, subject(), 'letter')
    expect(found.isSent).toBe(true)
    expect(words(found, letter)).toEqual(
      expect.arrayContaining([
        'without consent to marketing by email',
        'with “refunded” 5 minutes after the beginning',
      ]),
    )
  })

  test('what nothing turns says how many ways were tried', () => {
    const never = aDefinition({ ...letter, trigger: on('order.placed', { filter: { kind: 'field', field: 'order.currency', op: 'is', value: 'CHF' } }) }) // prettier-ignore
    const found = ask(never, subject(), 'letter')
    expect([found.alone, found.pairs]).toEqual([[], []])
    expect(differenceWords(found)).toMatch(/^Nothing that was tried turns it, of \d+ ways/)
  })
})

const field = (name: string, op: string, value: unknown) =>
  ({ kind: 'field', field: name, op, value }) as Condition
const conditions = fc.option(
  fc.constantFrom<Condition>(
    field('customer.emailConsent', 'is', true),
    field('order.total', 'gte', { amountMinor: 100_000, currency: 'EUR' }),
    field('order.categories', 'hasAny', ['Tools']),
    field('customer.tags', 'hasAny', ['keen']),
    ordersEver(2),
    happened('order.paid'),
    happened('order.refunded'),
  ),
  { nil: null, freq: 1 },
)

/** Workflows of one letter with things in its way. */
const letters = fc
  .record({ filter: conditions, leave: conditions, onlyIf: conditions, marketing: fc.boolean() })
  .map(({ filter, leave, onlyIf, marketing }) =>
    aDefinition({
      trigger: on('order.placed', filter ? { filter } : {}),
      exclusions: leave ? [{ key: 'x', when: leave, effect: 'leave' }] : [],
      steps: [wait('w', 'P3D'), anEmail('letter', { purpose: marketing ? 'marketing' : 'transactional', ...(onlyIf && { onlyIf }) })],
    }),
  ) // prettier-ignore

const anySubject = fc.record({
  consent: fc.constantFrom(true, false, null),
  earlier: fc.integer({ min: 0, max: 2 }),
  between: fc.array(fc.record({ what: fc.constantFrom(...HAPPENINGS), afterMinutes: fc.integer({ min: 1, max: 20 * 1440 }) }), { maxLength: 3 }),
}) // prettier-ignore

test('each answer is one: with the change the interpreter decides otherwise, and of a pair neither does it alone (property)', () => {
  let turned = 0
  fc.assert(
    fc.property(letters, anySubject, (definition, { consent, earlier, between }) => {
      const step = 'letter'
      const one = subject(
        {
          earlier: Array.from({ length: earlier }, (_, index) => ({ daysBefore: 20 * (index + 1), lines: LINES.slice(0, 1) })),
          between: between.map((happening, index) => ({ key: `b${index}`, ...happening, ...(happening.what === 'review' && { stars: 3 }) })),
        },
        { emailConsent: consent },
      ) // prettier-ignore
      const found = ask(definition, one, step)
      expect(found.isSent).toBe(isSent(definition, one, step))
      for (const change of found.alone) {
        turned += 1
        expect(isSent(definition, changed(one, change), step)).toBe(!found.isSent)
      }
      for (const [first, second] of found.pairs) {
        expect(isSent(definition, changed(changed(one, first), second), step)).toBe(!found.isSent)
        for (const alone of [first, second]) {
          expect(isSent(definition, changed(one, alone), step)).toBe(found.isSent)
        }
      }
    }),
    { numRuns: 40, seed: 7 },
  )
  expect(turned).toBeGreaterThan(20)
}, 120_000)
