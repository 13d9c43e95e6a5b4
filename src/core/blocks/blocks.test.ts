import { expect, test } from 'vitest'
import { anEmail } from '../../testing/builders.ts'
import { blocksSchema, type Block } from './blocks.ts'
import { blocksFromBody } from '../messages/fromBody.ts'
import { tagOf, templateParts } from '../messages/mergeFields.ts'
import { bodyText, templatesOf } from '../workflow/templates.ts'

test('a letter becomes blocks: paragraphs, lists, items, and is a valid document', () => {
  const blocks = blocksFromBody(
    'Hello {{ customer.first_name }},\n\nthank you.\nAgain.\n\n{{ order.items }}\n\n- one\n- two\n\nhttps://combwright.example/a',
  )
  expect(blocksSchema.parse(blocks)).toEqual([
    { key: 'text-1', kind: 'text', text: [
      { kind: 'paragraph', text: [{ text: 'Hello {{ customer.first_name }},' }] },
      { kind: 'paragraph', text: [{ text: 'thank you.\nAgain.' }] },
    ] },
    { key: 'items-2', kind: 'items', prices: true },
    { key: 'text-3', kind: 'text', text: [
      { kind: 'list', ordered: false, items: [[{ text: 'one' }], [{ text: 'two' }]] },
      { kind: 'paragraph', text: [{ text: 'https://combwright.example/a', href: 'https://combwright.example/a' }] },
    ] },
  ]) // prettier-ignore
})

test('templates of a message: those of its form, and the coupon’s own', () => {
  const blocks: Block[] = [
    { key: 'b', kind: 'button', label: 'Go {{ order.number }}', href: 'https://x.example' },
    { key: 'c', kind: 'columns', columns: [[{ key: 'd', kind: 'coupon', text: 'Yours' }], []] },
  ]
  const message = anEmail('m', { body: 'not this', blocks, format: 'designed' })
  expect(templatesOf(message)).toEqual([
    'About {{ order.number }}', '', 'Go {{ order.number }}', 'https://x.example', 'Yours', '{{ coupon.code }}',
  ]) // prettier-ignore
  expect(bodyText(message)).toContain('Yours')
  expect(templatesOf({ ...message, format: 'letter' })).toContain('not this')
})

test('a template cut at its merge fields', () => {
  expect(templateParts('A {{ a.b }}{{c.d|default:"x y"}} B')).toEqual([
    'A ',
    { key: 'a.b', format: null, fallback: null },
    { key: 'c.d', format: null, fallback: 'x y' },
    ' B',
  ])
  expect(templateParts("{{ a.b | default: '' }}")).toEqual([
    { key: 'a.b', format: null, fallback: '' },
  ])
  const both = templateParts('{{ a.b | as: "short" | default: "x" }}')
  expect(both).toEqual([{ key: 'a.b', format: 'short', fallback: 'x' }])
  expect(both.map((part) => (typeof part === 'string' ? part : tagOf(part)))).toEqual([
    '{{ a.b | default: "x" | as: "short" }}',
  ])
  expect(templateParts('none {% if %} {{')).toEqual(['none {% if %} {{'])
})
