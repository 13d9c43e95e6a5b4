import fc from 'fast-check'
import { simpleParser } from 'mailparser'
import { expect, test } from 'vitest'
import { quotedPrintable } from './quotedPrintable.ts'

test('the examples of RFC 2045, section 6.7', () => {
  // Rule 1 and its example; rule 3: blanks at the end of a line are encoded; rule 5: soft breaks.
  expect(quotedPrintable('a = b')).toBe('a =3D b')
  expect(quotedPrintable('\f')).toBe('=0C')
  expect(quotedPrintable('ends in a blank \nand a tab\t')).toBe(
    'ends in a blank=20\r\nand a tab=09',
  )
  const long = "Now's the time for all folk to come to the aid of their country."
  expect(quotedPrintable(long)).toBe(long)
  expect(quotedPrintable(`${long} ${long}`).split('=\r\n')).toHaveLength(2)
})

test('line breaks of every kind are CRLF', () => {
  expect(quotedPrintable('a\nb\r\nc\rd\n')).toBe('a\r\nb\r\nc\r\nd\r\n')
})

test('characters are not parted', () => {
  for (let before = 60; before < 80; before += 1) {
    for (const character of ['é', '€', '🐝', '=']) {
      const encoded = encodeURIComponent(character).replaceAll('%', '=')
      expect(quotedPrintable('x'.repeat(before) + character)).toContain(encoded)
    }
  }
})

const piece = fc.oneof(
  fc.string({ unit: 'binary' }),
  fc.string({ unit: 'grapheme' }),
  fc.constantFrom(
    '=',
    '=3D',
    ' ',
    '\t',
    '\n',
    '\r\n',
    '.',
    'é',
    '€',
    '🐝',
    '\ud83d',
    'x'.repeat(75),
  ),
)
const texts = fc.array(piece, { maxLength: 40 }).map((pieces) => pieces.join(''))

test('lines are short and of the characters that are allowed', () => {
  fc.assert(
    fc.property(texts, (text) => {
      for (const line of quotedPrintable(text).split('\r\n')) {
        expect(line.length).toBeLessThanOrEqual(76)
        expect(line).toMatch(/^(?:[\t\x20-\x3c\x3e-\x7e]|=[\dA-F]{2})*=?$/)
        expect(line).not.toMatch(/[\t ]$/)
      }
    }),
  )
})

test('a mail parser reads what was written', async () => {
  await fc.assert(
    fc.asyncProperty(texts, async (text) => {
      // An independent decoder. It leaves line breaks at the end of a mail out, so something follows.
      const body = `${text}\nend`
      const mail = await simpleParser(
        `Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n${quotedPrintable(body)}\r\n`,
      )
      expect(mail.text).toContain('end')
      expect(unbroken(mail.text ?? '')).toBe(unbroken(body.toWellFormed()))
    }),
    { numRuns: 300 },
  )
})

const unbroken = (text: string): string => text.replaceAll(/\r\n|\r|\n/g, '\n').trim()
