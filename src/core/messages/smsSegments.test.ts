import fc from 'fast-check'
import { expect, test } from 'vitest'
import { smsSegments } from './smsSegments.ts'

const a = (count: number) => 'a'.repeat(count)
const zh = (count: number) => 'ж'.repeat(count)
const SMILE = '\u{1F600}'

/** Alphabet: 3GPP TS 23.038 section 6.2.1; parts: 3GPP TS 23.040 section 9.2.3.24.1. */
test.each<[string, string, 'gsm7' | 'ucs2', number, number[]]>([
  ['nothing', '', 'gsm7', 0, []],
  ['160 letters', a(160), 'gsm7', 160, [160]],
  ['161', a(161), 'gsm7', 161, [153, 8]],
  ['306', a(306), 'gsm7', 306, [153, 153]],
  ['307', a(307), 'gsm7', 307, [153, 153, 1]],
  ['460', a(460), 'gsm7', 460, [153, 153, 153, 1]],
  ['80 euro signs', '€'.repeat(80), 'gsm7', 160, [160]],
  ['81', '€'.repeat(81), 'gsm7', 162, [152, 10]],
  ['a euro sign at the end', `${a(158)}€`, 'gsm7', 160, [160]],
  ['one over', `${a(159)}€`, 'gsm7', 161, [153, 8]],
  ['an escape pair pushed on', `${a(152)}€${a(151)}`, 'gsm7', 305, [152, 153]],
  ['three parts for 306 units', `${a(152)}€${a(152)}`, 'gsm7', 306, [152, 153, 1]],
  ['a pair that just fits', `${a(151)}€${a(153)}`, 'gsm7', 306, [153, 153]],
  ['153 euro signs', '€'.repeat(153), 'gsm7', 306, [152, 152, 2]],
  ['brackets', '[{}]'.repeat(40), 'gsm7', 320, [152, 152, 16]],
  ['é is in the alphabet', 'é'.repeat(160), 'gsm7', 160, [160]],
  ['Ç too', 'Ç'.repeat(160), 'gsm7', 160, [160]],
  ['ç is not', `${a(159)}ç`, 'ucs2', 160, [67, 67, 26]],
  ['nor a grave accent', `${a(159)}\u0060`, 'ucs2', 160, [67, 67, 26]],
  ['a curly apostrophe', `${a(69)}’`, 'ucs2', 70, [70]],
  ['a dash', `${a(100)}—`, 'ucs2', 101, [67, 34]],
  ['a no-break space', `${a(100)}\u00a0`, 'ucs2', 101, [67, 34]],
  ['a tab', `${a(100)}\t`, 'ucs2', 101, [67, 34]],
  ['a decomposed é', `${a(100)}e\u0301`, 'ucs2', 102, [67, 35]],
  ['the same composed', `${a(100)}e\u0301`.normalize('NFC'), 'gsm7', 101, [101]],
  ['70 of another alphabet', zh(70), 'ucs2', 70, [70]],
  ['71', zh(71), 'ucs2', 71, [67, 4]],
  ['134', zh(134), 'ucs2', 134, [67, 67]],
  ['135', zh(135), 'ucs2', 135, [67, 67, 1]],
  ['a face', `${zh(68)}${SMILE}`, 'ucs2', 70, [70]],
  ['a face too many', `${zh(69)}${SMILE}`, 'ucs2', 71, [67, 4]],
  ['a face is not divided', `${zh(66)}${SMILE}${zh(66)}`, 'ucs2', 134, [66, 67, 1]],
  ['nor here', `${zh(66)}${SMILE}${zh(65)}`, 'ucs2', 133, [66, 67]],
  ['35 faces', SMILE.repeat(35), 'ucs2', 70, [70]],
  ['67 faces', SMILE.repeat(67), 'ucs2', 134, [66, 66, 2]],
  ['a family', '\u{1F468}\u200d\u{1F469}\u200d\u{1F467}\u200d\u{1F466}', 'ucs2', 11, [11]],
  ['line feeds', 'a\n'.repeat(80), 'gsm7', 160, [160]],
  ['line ends of two', 'a\r\n'.repeat(53), 'gsm7', 159, [159]],
])('%s', (_name, text, encoding, units, parts) => {
  expect(smsSegments(text)).toMatchObject({ encoding, units, parts })
}) // prettier-ignore

test('the alphabet has 127 characters and an extension of ten', () => {
  const all = Array.from({ length: 0x3000 }, (_, code) => String.fromCharCode(code))
  const inside = all.filter((one) => smsSegments(one).encoding === 'gsm7')
  expect(inside.filter((one) => smsSegments(one).units === 1)).toHaveLength(127)
  expect(inside.filter((one) => smsSegments(one).units === 2)).toHaveLength(10)
})

test('what makes a text long is told, each once', () => {
  expect(smsSegments('“hi” “ho”').outside).toEqual(['“', '”'])
  expect(smsSegments(a(150)).left).toBe(10)
  expect(smsSegments(a(161)).left).toBe(145)
})

test('parts add up, and none is over its limit', () => {
  const text = fc.array(fc.constantFrom('a', '€', 'ж', SMILE, '’'), { maxLength: 400 })
  fc.assert(
    fc.property(text, (characters) => {
      const { parts, units, encoding } = smsSegments(characters.join(''))
      expect(parts.reduce((sum, part) => sum + part, 0)).toBe(units)
      if (parts.length > 1) {
        expect(Math.max(...parts)).toBeLessThanOrEqual(encoding === 'gsm7' ? 153 : 67)
      }
    }),
  )
})
