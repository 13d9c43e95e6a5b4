import { expect, test } from 'vitest'
import { aDefinition, anEmail, on } from '../../../testing/builders.ts'
import type { Block } from '../../blocks/blocks.ts'
import { blockFindings } from './blockFindings.ts'
import { messageFindings } from './messageFindings.ts'

const found = (blocks: Block[], over: Parameters<typeof anEmail>[1] = {}, trigger = on('order.placed')) =>
  blockFindings(
    aDefinition({ trigger, steps: [anEmail('m', { format: 'designed', blocks, ...over })] }),
  ).map(({ severity, code, title }) => `${severity} ${code} ${title}`) // prettier-ignore

const button = (over: object = {}): Block => ({ key: 'b', kind: 'button', label: 'Go', href: 'https://x.example', ...over }) // prettier-ignore
const image = (over: object = {}): Block => ({ key: 'i', kind: 'image', src: 'https://x.example/i.png', alt: 'A bee', width: 100, ...over }) // prettier-ignore
const text: Block = { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'Hi' }] }] } // prettier-ignore

test('what is right is not spoken of', () => {
  expect(found([text, button(), image(), { key: 's', kind: 'summary' }])).toEqual([])
})

test.each<[string, Block[], string]>([
  ['a button without words', [button({ label: ' ' })], 'error block-b'],
  ['without a target', [button({ href: 'https://' })], 'error link-b'],
  ['an image that is missing', [text, image({ src: '' })], 'error block-i'],
  ['a menu', [text, { key: 'm', kind: 'menu', links: [{ label: 'x', href: '' }] }], 'error link-m'],
  ['a field in a tag', [{ key: 'h', kind: 'html', html: '<a href="{{ shop.name }}">x</a>' }], 'error block-h'],
  ['a code without a coupon', [{ key: 'c', kind: 'coupon', text: 'x' }], 'error block-c'],
  ['in columns, too', [{ key: 'k', kind: 'columns', columns: [[button({ href: '' }) as never], []] }], 'error link-b'],
  ['an image without a description', [text, image({ alt: '' })], 'warning image-alt'],
  ['images only', [image()], 'warning only-images'],
  ['http', [button({ href: 'http://x.example' })], 'warning http-link'],
])('%s', (_name, blocks, start) => {
  expect(found(blocks)).toEqual([expect.stringContaining(start)])
}) // prettier-ignore

test('blocks that the trigger cannot fill', () => {
  const blocks: Block[] = [{ key: 's', kind: 'summary' }, { key: 't', kind: 'tracking', label: 'x' }, { key: 'i', kind: 'items', prices: true }] // prettier-ignore
  expect(found(blocks, {}, on('checkout.started'))).toHaveLength(2)
  expect(found(blocks, {}, on('review.submitted'))).toHaveLength(3)
})

test('subjects: long for a phone, all in capitals', () => {
  expect(found([text], { subject: 'x'.repeat(61) })).toEqual([expect.stringContaining('long-subject')]) // prettier-ignore
  expect(found([text], { subject: 'BUY THIS NOW, {{ customer.first_name | default: "you" }}' })).toEqual([expect.stringContaining('loud-subject')]) // prettier-ignore
  expect(found([text], { subject: 'Order {{ order.number }}: OK' })).toEqual([])
})

test('blocks understand fallbacks, and ways to write a field', () => {
  const words = '{{ order.total | default: "it | all" | as: "short" }}'
  const heading: Block = { key: 'h', kind: 'heading', level: 1, text: words }
  expect(found([heading])).toEqual([])
})

test.each(['{% if a %}b{% endif %}', '{{ customer.first_name | upcase }}', '{{ customer.first_name | default: "a" | upcase }}'])(
  'blocks do not understand %s',
  (words) => {
    const heading: Block = { key: 'h', kind: 'heading', level: 1, text: words }
    expect(found([heading])).toEqual([expect.stringContaining('error block-liquid')])
  },
) // prettier-ignore

test('they understand fallbacks', () => {
  const words = '{{ customer.first_name | default: "a|b" }} {{ order.number }}'
  expect(found([{ key: 'h', kind: 'heading', level: 1, text: words }])).toEqual([])
})

test('own HTML with a field in its text is right', () => {
  expect(found([{ key: 'h', kind: 'html', html: '<p>a > b {{ shop.name }}</p>' }])).toEqual([])
})

test('a link into the back office may stand in notes, not in what customers read', () => {
  const body = 'See {{ order.back_office_url | default: "it" }}'
  const codes = (step: Parameters<typeof messageFindings>[0]['steps'][number]) =>
    messageFindings(aDefinition({ steps: [step] })).map(({ code }) => code)
  expect(codes(anEmail('m', { body }))).toEqual(['field-order.back_office_url'])
  expect(
    codes({ key: 'n', kind: 'note', name: 'N', to: ['a@x.example'], subject: 'S', body }),
  ).toEqual([])
})

test('files that are heavy together are questioned', () => {
  const file = (id: string, bytes: number) => ({ id, name: `${id}.pdf`, bytes })
  expect(found([text], { documents: [file('a', 1_000_000), file('b', 900_000)] })).toEqual([])
  expect(found([text], { documents: [file('a', 1_500_000), file('b', 900_000)] })).toEqual([
    expect.stringContaining('warning documents-heavy'),
  ])
})
