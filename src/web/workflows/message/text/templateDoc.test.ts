import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Paragraph, Styled } from '../../../../core/blocks/blocks.ts'
import { docOf, lineDoc, lineOf, linesDoc, linesOf, paragraphsOf } from './templateDoc.ts'

const style = fc.record(
  {
    bold: fc.constant(true),
    italic: fc.constant(true),
    href: fc.constantFrom('https://x.example', 'https://y.example'),
  },
  { requiredKeys: [] },
)
const words = fc
  .array(fc.constantFrom('word', ' ', '{{ order.number }}', '{{ customer.first_name | default: "a" }}', 'é<&'), {
    minLength: 1,
    maxLength: 4,
  })
  .map((parts) => parts.join('')) // prettier-ignore
/** Runs as they are kept: no two of the same style side by side. */
const run = fc
  .array(fc.tuple(words, style), { maxLength: 4 })
  .map((all) => all.map(([text, own]): Styled => ({ text, ...own })))
  .filter((all) =>
    all.every(({ text: _text, ...own }, index) => {
      const { text: _before, ...before } = all[index - 1] ?? { text: '', bold: undefined }
      return index === 0 || JSON.stringify(own) !== JSON.stringify(before)
    }),
  )
const paragraph = fc.oneof(
  run.map((text): Paragraph => ({ kind: 'paragraph', text })),
  fc
    .tuple(fc.boolean(), fc.array(run, { minLength: 1, maxLength: 3 }))
    .map(([ordered, items]): Paragraph => ({ kind: 'list', ordered, items })),
)

test('what is edited and left alone stays as it was', () => {
  fc.assert(
    fc.property(fc.array(paragraph, { minLength: 1, maxLength: 4 }), (paragraphs) => {
      expect(paragraphsOf(docOf(paragraphs))).toEqual(paragraphs)
    }),
  )
})

test('line breaks, merge fields and text are told apart', () => {
  const text = [{ text: 'Dear {{ customer.first_name }},\nyou' }]
  expect(docOf([{ kind: 'paragraph', text }]).content?.[0]?.content).toEqual([
    { type: 'text', text: 'Dear ' },
    { type: 'mergeField', attrs: { tag: '{{ customer.first_name }}' } },
    { type: 'text', text: ',' },
    { type: 'hardBreak' },
    { type: 'text', text: 'you' },
  ])
  expect(paragraphsOf(docOf([{ kind: 'paragraph', text }]))).toEqual([{ kind: 'paragraph', text }])
})

test('nothing is an empty paragraph; a line stays one', () => {
  expect(paragraphsOf(docOf([]))).toEqual([{ kind: 'paragraph', text: [] }])
  expect(lineOf(lineDoc('Order {{ order.number }}\nis here'))).toBe('Order {{ order.number }} is here') // prettier-ignore
})

test('a list pasted within a list becomes one', () => {
  const item = (text: string, inner: object[] = []) => ({
    type: 'listItem',
    content: [{ type: 'paragraph', content: [{ type: 'text', text }] }, ...inner],
  })
  const doc = {
    type: 'doc',
    content: [
      { type: 'bulletList', content: [item('a', [{ type: 'bulletList', content: [item('b')] }])] },
    ],
  }
  expect(paragraphsOf(doc)).toEqual([
    { kind: 'list', ordered: false, items: [[{ text: 'a' }], [{ text: 'b' }]] },
  ])
})

test('a text that is sent as it is written keeps every line, space and tag', () => {
  const piece = fc.constantFrom(
    'word',
    ' ',
    '\n',
    '{{ order.number }}',
    '{{ customer.first_name | default: "a" }}',
    '{% if order.note %}',
    '{% endif %}',
    '{{ half',
    '}}',
    '<b>&',
  )
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
      const text = pieces.join('')
      expect(linesOf(linesDoc(text))).toBe(text)
    }),
  )
})

test('each line is a paragraph, an empty one too', () => {
  expect(linesDoc('Hello {{ shop.name }}\n\nMaren')).toEqual({
    type: 'doc',
    content: [
      {
        type: 'paragraph',
        content: [
          { type: 'text', text: 'Hello ' },
          { type: 'mergeField', attrs: { tag: '{{ shop.name }}' } },
        ],
      },
      { type: 'paragraph', content: [] },
      { type: 'paragraph', content: [{ type: 'text', text: 'Maren' }] },
    ],
  })
})
