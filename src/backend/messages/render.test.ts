import { describe, expect, test } from 'vitest'
import { facts } from '../../testing/coreFacts.ts'
import { anEmail } from '../../testing/builders.ts'
import { escapeHtml } from './letterHtml.ts'
import { renderEmail, RenderError } from './render.ts'

const render = (over: Parameters<typeof anEmail>[1], factsOver: Parameters<typeof facts>[0] = {}) =>
  renderEmail(
    anEmail('m', {
      format: 'letter',
      subject: 'Hello {{ customer.first_name }}',
      body: 'Dear {{ customer.first_name }}',
      ...over,
    }),
    facts(factsOver),
    null,
  )

/** Values that template engines of various kinds would act on, from common practice in security testing. */
const HOSTILE = [
  '{{7*7}}', '${7*7}', '<%= 7*7 %>', '#{7*7}', '*{7*7}', '[[${7*7}]]', '{% for i in (1..9999999) %}x{% endfor %}',
  '{{customer.email}}', "{{constructor.constructor('return process.env')()}}", '{{__proto__.polluted}}', '$&', "$'",
  '%0d%0aBcc:', '<img src=x onerror=alert(1)>', '</script><script>alert(1)</script>', 'javascript:alert(1)', '"><svg onload=1>',
] // prettier-ignore

describe('a customer whose name is an attack', () => {
  test.each(HOSTILE)('%s stays what it is', (name) => {
    const rendered = render({}, { customer: { firstName: name } })
    expect(rendered.subject).toBe(`Hello ${name}`)
    expect(rendered.text).toBe(`Dear ${name}\n`)
    expect(rendered.html).toContain(`Dear ${escapeHtml(name)}`)
    expect(rendered.html).not.toMatch(/<(script|img|svg)/)
  })
  test('line breaks cannot make a header', () => {
    expect(render({}, { customer: { firstName: 'x\r\nBcc: y@z.example' } }).subject).toBe(
      'Hello x Bcc: y@z.example',
    )
  })
})

describe('a template that is an attack', () => {
  test.each([
    '{{ constructor.name }}',
    '{{ __proto__ }}',
    '{{ customer.constructor.name }}',
    '{{ toString }}',
    '{{ customer.__proto__.x }}',
  ])('%s reaches nothing', (body) => {
    expect(() => render({ body })).toThrow(RenderError)
  })
  test.each([
    ['files', '{% include "/etc/passwd" %}'],
    ['files, again', '{% render "../../package.json" %}'],
    ['endless output', '{% for i in (1..99999999) %}xxxxxxxxxxxxxxxxxxxx{% endfor %}'],
    ['nested loops', '{% for i in (1..9999) %}{% for j in (1..9999) %}x{% endfor %}{% endfor %}'],
  ])('%s: an error, soon', (_what, body) => {
    expect(() => render({ body })).toThrow(RenderError)
  })
})

describe('merge fields', () => {
  test('a fallback is used when the value is unknown', () => {
    const body = 'Hello {{ customer.first_name | default: "there" }}'
    expect(render({ subject: 'Hi', body }, { customer: { firstName: null } }).text).toBe(
      'Hello there\n',
    )
  })
  test('without one, nothing is sent', () => {
    expect(() => render({}, { customer: { firstName: null } })).toThrow(RenderError)
  })
  test('an empty subject or text is not sent either', () => {
    expect(() => render({ subject: ' ' })).toThrow(/subject is empty/)
    expect(() => render({ body: '{% if false %}x{% endif %}' })).toThrow(/text is empty/)
  })
  test('what an order brings', () => {
    const body = '{{ order.number }}: {{ order.total }}, {{ order.placed_on }}\n{{ order.items }}'
    expect(render({ subject: 'Hi', body }).text).toBe(
      '1001: €42.00, 14 April, 10:20\n2 × Bee brush\n',
    )
  })
})

describe('a letter', () => {
  test('has paragraphs, line breaks and links that lead where they say', () => {
    const { html } = render({
      subject: 'Hi',
      body: 'One\ntwo\n\nSee https://combwright.example/a?b=1&c=2.',
    })
    expect(html).toContain('One<br>two</p>')
    expect(html).toContain(
      '<a href="https://combwright.example/a?b=1&amp;c=2" style="color:#0f5d5a">https://combwright.example/a?b=1&amp;c=2</a>.',
    )
  })
  test('a plain mail has no HTML', () => {
    expect(render({ format: 'plain' }).html).toBeNull()
  })
})
