import { inflateSync } from 'node:zlib'
import { expect, test } from 'vitest'
import { plainBrand } from '../../core/messages/brand.ts'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { invoicePdf } from './invoice.ts'
import { RenderError } from './renderError.ts'

/** The words of a PDF: the strings of its text operators, hexadecimal as pdfkit writes them. */
function wordsOf(pdf: Buffer): string {
  const latin = pdf.toString('latin1')
  const streams = [...latin.matchAll(/stream\r?\n([\s\S]*?)\r?\nendstream/g)].flatMap(([, body = '']) => {
    try {
      return [inflateSync(Buffer.from(body, 'latin1')).toString('latin1')]
    } catch {
      // Not every stream is compressed text.
      return []
    }
  }) // prettier-ignore
  return streams
    .flatMap((stream) =>
      [...stream.matchAll(/<([0-9a-f]+)>/g)].map(([, hex = '']) =>
        Buffer.from(hex, 'hex').toString('latin1'),
      ),
    ) // prettier-ignore
    .join('')
}
const BRAND = { ...plainBrand('Combwright'), postalAddress: 'Rua 1\nLisbon' }

test('an order on paper: number, items, amounts, address', async () => {
  const details = {
    amounts: { itemsMinor: 4000, shippingMinor: 200 },
    shippingAddress: { name: 'Ines Duarte', street: 'Rua 2', country: 'PT' },
  }
  const pdf = await invoicePdf(facts({ order: { details } }), BRAND)
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
  const words = wordsOf(pdf)
  for (const part of ['Combwright', 'Invoice for order 1001', 'Bee brush', '42.00', 'Ines Duarte', 'Portugal', 'Shipping']) {
    expect(words).toContain(part)
  } // prettier-ignore
})

test('a long order goes on to another page; letters that cannot be printed do no harm', async () => {
  const lines = Array.from({ length: 60 }, (_, index) => aLine({ title: `Thing ${index} 巣箱` }))
  const pdf = await invoicePdf(facts({ order: { lines } }), BRAND)
  expect(pdf.toString('latin1').match(/\/Type \/Page\b/g)?.length).toBeGreaterThan(1)
  expect(wordsOf(pdf)).toContain('Thing 59 ??')
})

test('without an order there is none', () => {
  expect(() => invoicePdf({ ...facts(), order: null }, BRAND)).toThrow(RenderError)
})
