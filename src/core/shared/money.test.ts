import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { decimalAmount, formatMoney, minorDigits, parseAmount } from './money.ts'

describe('minor units by ISO 4217, not by CLDR', () => {
  test.each([
    ['JPY', 0], ['KRW', 0], ['CLP', 0], ['ISK', 0], ['VND', 0], ['XAF', 0], ['XOF', 0], ['UGX', 0], ['PYG', 0],
    ['EUR', 2], ['USD', 2], ['GBP', 2], ['HUF', 2], ['IDR', 2], ['COP', 2], ['TWD', 2],
    ['KWD', 3], ['BHD', 3], ['JOD', 3], ['OMR', 3], ['TND', 3], ['LYD', 3], ['IQD', 3],
    ['CLF', 4], ['UYW', 4],
  ] as const)('%s has %i', (currency, digits) => {
    expect(minorDigits(currency)).toBe(digits)
  }) // prettier-ignore
})

describe('formatting (CLDR 48; spaces shown as escapes)', () => {
  test.each([
    ['en-US', 'USD', 123450, '$1,234.50'],
    ['en-US', 'USD', -123450, '-$1,234.50'],
    ['de-DE', 'EUR', 123450, '1.234,50\u00a0€'],
    ['fr-FR', 'EUR', 123450, '1\u202f234,50\u00a0€'],
    ['ja-JP', 'JPY', 1234, '\uffe51,234'],
    ['en-IN', 'INR', 12345678, '₹1,23,456.78'],
    ['es-ES', 'EUR', 123450, '1234,50\u00a0€'],
    ['en-KW', 'KWD', 1234500, 'KWD\u00a01,234.500'],
    ['pt-BR', 'BRL', 123450, 'R$\u00a01.234,50'],
    ['en-US', 'HUF', 123450, 'HUF\u00a01,234.50'],
  ])('%s %s %i', (locale, currency, amountMinor, expected) => {
    expect(formatMoney({ amountMinor, currency }, locale)).toBe(expected)
  })
})

describe('reading an amount', () => {
  test.each([
    ['12.5', 'EUR', 1250],
    ['12,50', 'EUR', 1250],
    ['19.99', 'EUR', 1999],
    ['4.35', 'EUR', 435],
    ['1234', 'JPY', 1234],
    ['-5', 'EUR', -500],
    ['1.005', 'KWD', 1005],
  ])('%s %s', (text, currency, amountMinor) => {
    expect(parseAmount(text, currency)).toEqual({ amountMinor, currency })
  })
  test.each([
    ['1.005', 'EUR'],
    ['1.5', 'JPY'],
    ['1,234.50', 'EUR'],
    ['', 'EUR'],
    ['abc', 'EUR'],
    ['1e3', 'EUR'],
  ])('%s %s is none', (text, currency) => {
    expect(parseAmount(text, currency)).toBeNull()
  })
  test('writing and reading give the same amount', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.constantFrom('EUR', 'JPY', 'KWD', 'CLF'),
        (amountMinor, currency) => {
          expect(parseAmount(decimalAmount({ amountMinor, currency }), currency)).toEqual({
            amountMinor: amountMinor || 0,
            currency,
          })
        },
      ),
    )
  })
})
