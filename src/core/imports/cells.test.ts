import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { formatInstant } from '../shared/time.ts'
import { formatOf, readCell, readMoment, type CellFormat } from './cells.ts'
import { madeOf } from './toEvents.ts'
import { likelyKind, missingIn, recognised } from './kinds.ts'

const DE: CellFormat = { decimal: ',', dates: 'dmy', zone: 'Europe/Berlin' }
const US: CellFormat = { decimal: '.', dates: 'mdy', zone: 'America/New_York' }

describe('amounts', () => {
  test.each([
    ['1.234,50', DE, 123450],
    ['1,234.50', US, 123450],
    ['€ 9,9', DE, 990],
    ["1'234.5 CHF", US, 123450],
    ['-3', US, -300],
  ])('%s', (cell, format, minor) => {
    expect(readCell(cell, 'amount', format)).toEqual({ ok: true, value: minor })
  })

  test('what is none is refused', () => {
    for (const cell of ['free', '1,2,3', '--1', '1.2.3', '12.50']) {
      expect(readCell(cell, 'amount', DE).ok).toBe(false)
    }
    expect(readCell('12,50', 'amount', US).ok).toBe(false)
  })

  test('each amount is read as it was written, in either way', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99_999_999 }), fc.constantFrom(DE, US), (minor, format) => {
        const thousands = format.decimal === ',' ? '.' : ','
        const whole = String(Math.floor(minor / 100)).replaceAll(/\B(?=(\d{3})+$)/g, thousands)
        const cell = `${whole}${format.decimal}${String(minor % 100).padStart(2, '0')}`
        expect(readCell(cell, 'amount', format)).toEqual({ ok: true, value: minor })
      }),
    )
  }) // prettier-ignore
})

describe('moments', () => {
  test.each([
    ['2026-04-14T09:20:00Z', DE, '2026-04-14T09:20:00.000Z'],
    ['2026-04-14 09:20:00 +0200', DE, '2026-04-14T07:20:00.000Z'],
    ['14.04.2026 09:20', DE, '2026-04-14T07:20:00.000Z'],
    ['04/14/2026, 09:20', US, '2026-04-14T13:20:00.000Z'],
    ['2026-04-14', DE, '2026-04-14T10:00:00.000Z'],
    ['1776158400', DE, '2026-04-14T09:20:00.000Z'],
  ])('%s', (cell, format, instant) => {
    const at = readMoment(cell, format)
    expect(at === null ? null : new Date(at).toISOString()).toBe(instant)
    expect(at === null ? '' : formatInstant(at)).toContain('2026-04-14')
  })

  test('days that there are not are refused', () => {
    for (const cell of ['31.02.2026', '2026-13-01', '14.04.2026 25:00', 'soon', '']) {
      expect(readMoment(cell, DE)).toBeNull()
    }
  })
})

test('how cells are written is recognised from them', () => {
  expect(formatOf(['1.234,50', '03.04.2026'])).toEqual({ decimal: ',', dates: 'dmy' })
  expect(formatOf(['12.50', '03/25/2026'])).toEqual({ decimal: '.', dates: 'mdy' })
})

test('columns are recognised by their heads, each for one thing', () => {
  const heads = ['Bestellnummer', 'E-Mail', 'Created at', 'Total', 'Lineitem name', 'Name']
  expect(likelyKind(heads)).toBe('orders')
  const mapping = recognised('orders', heads)
  expect(mapping).toMatchObject({ number: 0, placedAt: 2, total: 3, title: 4 })
  expect(new Set(Object.values(mapping)).size).toBe(Object.values(mapping).length)
  expect(missingIn('orders', mapping)).toEqual([])
  expect(likelyKind(['email', 'reason'])).toBe('suppressions')
  expect(missingIn('products', {}).map(({ key }) => key)).toEqual(['id', 'title', 'price'])
})

test('amounts are told in the smallest unit of their currency', () => {
  const row = (currency: string) => {
    const told = {
      number: '1',
      placedAt: 0,
      email: 'a@example.org',
      total: 125_000,
      title: 'T',
      unitPrice: 1000,
      currency,
    }
    const made = madeOf({ kind: 'orders', currency: 'EUR', source: 's', now: 0 }, [
      { place: 1, told },
    ])
    return JSON.stringify(made)
  }
  expect(row('eur')).toContain('"totalMinor":125000')
  expect(row('JPY')).toContain('"totalMinor":1250,')
  expect(row('JPY')).toContain('"unitPriceMinor":10')
})
