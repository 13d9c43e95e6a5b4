import fc from 'fast-check'
import { expect, test } from 'vitest'
import { cleanText, cleanTexts, hasOddCharacters } from './plainText.ts'

test('halves of pairs and control characters are replaced, all else stays', () => {
  expect(cleanText('x\ud83d')).toBe('x\ufffd')
  expect(cleanText('\udc1dx')).toBe('\ufffdx')
  expect(cleanText('a\u0000b\u001b\u0085c')).toBe('a\ufffdb\ufffd\ufffdc')
  expect(cleanText('Inês 🐝\n\tline two')).toBe('Inês 🐝\n\tline two')
})

test('whatever comes, what is left is well-formed Unicode without control characters (property)', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.array(fc.integer({ min: 0, max: 0xffff })), (text, units) => {
      const clean = cleanText(text + String.fromCharCode(...units))
      expect(hasOddCharacters(clean)).toBe(false)
      expect(encodeURIComponent(clean)).toBeTypeOf('string')
      expect(cleanText(clean)).toBe(clean)
    }),
  ) // prettier-ignore
})

test('texts are cleaned however deep they lie, numbers and nothing stay as they are', () => {
  expect(cleanTexts({ 'a\u0000': ['b\ud800', 1, null, { c: '\u0007' }] })).toEqual({
    'a\ufffd': ['b\ufffd', 1, null, { c: '\ufffd' }],
  })
})
