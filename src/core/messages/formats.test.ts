import { describe, expect, test } from 'vitest'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { inLanguageOf, writeDay, writeItems, writeMoney, writeTime } from './formats.ts'
import { findMergeField } from './mergeFields.ts'

const AT = Date.UTC(2026, 4, 9, 22, 30)

describe('the locale somebody reads in', () => {
  test.each([
    [null, 'en-IE', 'en-IE'],
    ['de', 'en-IE', 'de'],
    ['pt-BR', 'en-IE', 'pt-BR'],
    // The same language is written as the shop writes it, unless a country is named.
    ['en', 'en-IE', 'en-IE'],
    ['en-US', 'en-IE', 'en-US'],
    ['not a tag', 'en-IE', 'en-IE'],
    ['xx', 'en-IE', 'en-IE'],
    ['', 'en-IE', 'en-IE'],
  ])('%s in a shop of %s: %s', (language, locale, expected) => {
    const known = facts({ customer: { language }, shop: { locale } })
    expect(inLanguageOf({ language: 'recipient' }, known).shop.locale).toBe(expected)
    expect(inLanguageOf({}, known)).toBe(known)
  })
})

// The patterns are those of the Unicode Common Locale Data Repository (CLDR), which Intl carries.
describe('a day', () => {
  test.each([
    ['en-IE', undefined, '9 May 2026'],
    ['en-US', undefined, 'May 9, 2026'],
    ['de', undefined, '9. Mai 2026'],
    ['en-IE', 'weekday', 'Saturday, 9 May'],
    ['de', 'weekday', 'Samstag, 9. Mai'],
    ['en-IE', 'figures', '09/05/2026'],
    ['en-US', 'figures', '05/09/2026'],
    ['en-IE', 'hour', null],
    ['en-IE', 'nonsense', null],
  ])('in %s, %s: %s', (locale, format, expected) => {
    expect(writeDay(AT, 'Europe/London', locale, format)).toBe(expected)
  })
  test('by the calendar of the zone', () => {
    expect(writeDay(AT, 'Europe/Berlin', 'en-IE')).toBe('10 May 2026')
  })
})

test.each([
  ['en-IE', undefined, '10 May, 00:30'],
  ['en-US', undefined, 'May 10, 12:30 AM'],
  ['en-IE', 'hour', '00:30'],
  ['en-IE', 'day', '10 May 2026'],
  ['en-IE', 'weekday', 'Sunday, 10 May'],
  ['en-IE', 'nonsense', null],
])('a day with an hour in %s, %s: %s', (locale, format, expected) => {
  expect(writeTime(AT, 'Europe/Berlin', locale, { now: AT, format })).toBe(expected)
})

test('the year is said when it is another one', () => {
  const now = Date.UTC(2025, 11, 1)
  expect(writeTime(AT, 'Europe/Berlin', 'en-IE', { now })).toBe('10 May 2026, 00:30')
})

test.each([
  [1200, 'EUR', undefined, '€12.00'],
  [1200, 'EUR', 'short', '€12'],
  [1250, 'EUR', 'short', '€12.50'],
  [1200, 'JPY', 'short', 'JP¥1,200'],
  [1200, 'EUR', 'nonsense', null],
])('%i %s, %s: %s', (amountMinor, currency, format, expected) => {
  expect(writeMoney({ amountMinor, currency }, 'en-IE', format)).toBe(expected)
})

test('items in lines, in a sentence, and by their names alone', () => {
  const lines = [aLine(), aLine({ title: 'Veil', quantity: 1 }), aLine({ title: 'Veil' })]
  expect(writeItems(lines, 'en-IE')).toBe('2 × Bee brush\n1 × Veil\n2 × Veil')
  expect(writeItems(lines, 'en-IE', 'sentence')).toBe('2 × Bee brush, 1 × Veil and 2 × Veil')
  expect(writeItems(lines, 'de', 'names')).toBe('Bee brush und Veil')
  expect(writeItems(lines, 'en-IE', 'nonsense')).toBeNull()
})

test('merge fields are written in the language and zone of the one who reads them', () => {
  const customer = { language: 'de', zone: 'Europe/Berlin' }
  const base = { customer, shop: { locale: 'de' } }
  const coupon = { code: 'X', expiresAt: AT } as never
  const expiry = findMergeField('coupon.expires_on')
  expect(expiry?.print(facts({ ...base, coupons: [coupon] }))).toBe('10. Mai, 00:30')
  expect(expiry?.print(facts({ ...base, coupons: [coupon] }), 'weekday')).toBe('Sonntag, 10. Mai')
  // What is a plain text has one way only.
  expect(findMergeField('customer.first_name')?.print(facts(base), 'weekday')).toBeNull()
})
