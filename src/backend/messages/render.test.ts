import { describe, expect, test } from 'vitest'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { HOSTILE } from '../../testing/hostile.ts'
import { anEmail } from '../../testing/builders.ts'
import { escapeHtml } from './html.ts'
import { plainBrand } from '../../core/messages/brand.ts'
import { renderEmail } from './render.ts'
import { RenderError } from './renderError.ts'

const render = (over: Parameters<typeof anEmail>[1], factsOver: Parameters<typeof facts>[0] = {}) =>
  renderEmail(
    anEmail('m', {
      format: 'letter',
      subject: 'Hello {{ customer.first_name }}',
      body: 'Dear {{ customer.first_name }}',
      ...over,
    }),
    facts(factsOver),
    {
      brand: plainBrand('Combwright'),
      publicUrl: 'https://yomble.example',
      unsubscribeUrl: null,
      holds: () => true,
      productsOf: async () => [],
      looksOf: async () => new Map(),
      keptOf: async () => new Map(),
    },
  )

describe('a customer whose name is an attack', () => {
  test.each(HOSTILE)('%s stays what it is', async (name) => {
    const rendered = await render({}, { customer: { firstName: name } })
    expect(rendered.subject).toBe(`Hello ${name}`)
    expect(rendered.text).toBe(`Dear ${name}\n`)
    expect(rendered.html).toContain(`Dear ${escapeHtml(name)}`)
    expect(rendered.html).not.toMatch(/<(script|img|svg)/)
  })
  test('line breaks cannot make a header', async () => {
    const { subject } = await render({}, { customer: { firstName: 'x\r\nBcc: y@z.example' } })
    expect(subject).toBe('Hello x Bcc: y@z.example')
  })
})

describe('a template that is an attack', () => {
  test.each([
    '{{ constructor.name }}',
    '{{ __proto__ }}',
    '{{ customer.constructor.name }}',
    '{{ toString }}',
    '{{ customer.__proto__.x }}',
  ])('%s reaches nothing', async (body) => {
    await expect(render({ body })).rejects.toThrow(RenderError)
  })
  test.each([
    ['files', '{% include "/etc/passwd" %}'],
    ['files, again', '{% render "../../package.json" %}'],
    ['endless output', '{% for i in (1..99999999) %}xxxxxxxxxxxxxxxxxxxx{% endfor %}'],
    ['nested loops', '{% for i in (1..9999) %}{% for j in (1..9999) %}x{% endfor %}{% endfor %}'],
  ])('%s: an error, soon', async (_what, body) => {
    await expect(render({ body })).rejects.toThrow(RenderError)
  })
})

describe('merge fields', () => {
  test('a fallback is used when the value is unknown', async () => {
    const body = 'Hello {{ customer.first_name | default: "there" }}'
    const { text } = await render({ subject: 'Hi', body }, { customer: { firstName: null } })
    expect(text).toBe('Hello there\n')
  })
  test('without one, nothing is sent', async () => {
    await expect(render({}, { customer: { firstName: null } })).rejects.toThrow(RenderError)
  })
  test.each([
    ['{{ customer.first_name }}', '“first name” is not known here, and has no fallback'],
    ['{{ subscription.title }}', '“product subscribed to” is not known here, and has no fallback'],
    ['{{ customer.nickname }}', 'there is no merge field “customer.nickname”'],
    ['{{ order.total | shout }}', 'undefined filter: shout'],
  ])(
    '%s: the reason is in words, with the name that the field is offered by',
    async (body, why) => {
      const nameless = { customer: { firstName: null } }
      const reason = render({ subject: 'Hi', body }, nameless).catch(
        (error: Error) => error.message,
      )
      expect(await reason).toBe(why)
    },
  )
  test('an empty subject or text is not sent either', async () => {
    await expect(render({ subject: ' ' })).rejects.toThrow(/subject is empty/)
    await expect(render({ body: '{% if false %}x{% endif %}' })).rejects.toThrow(/text is empty/)
  })
  test('what an order brings', async () => {
    const body = '{{ order.number }}: {{ order.total }}, {{ order.placed_on }}\n{{ order.items }}'
    const { text } = await render({ subject: 'Hi', body })
    expect(text).toBe('1001: €42.00, 14 April, 10:20\n2 × Bee brush\n')
  })
})

describe('a letter', () => {
  test('has paragraphs, line breaks and links that lead where they say', async () => {
    const { html } = await render({
      subject: 'Hi',
      body: 'One\ntwo\n\nSee https://combwright.example/a?b=1&c=2.',
    })
    expect(html).toContain('One<br>two</p>')
    expect(html).toContain(
      '<a href="https://combwright.example/a?b=1&amp;c=2" style="color:#0f5d5a">https://combwright.example/a?b=1&amp;c=2</a>.',
    )
  })
  test('a plain mail has no HTML', async () => {
    expect((await render({ format: 'plain' })).html).toBeNull()
  })
})

describe('a field that is written in another way', () => {
  const order = {
    lines: [aLine({ title: 'Veil', quantity: 1 }), aLine({ title: '<b>Hive</b>', quantity: 2 })],
  }
  test('in a letter: filters, conditions and fallbacks go on as with any other', async () => {
    const body = [
      '{{ order.items | as: "sentence" }}',
      '{{ order.items }}',
      '{{ order.first_date | as: "weekday" | default: "some day" }}',
      '{{ order.first_date | default: "one day" | as: "weekday" }}',
      '{% if order.total contains "€" %}yes{% endif %}',
      '{{ order.items | as: "names" | upcase }}',
    ].join('\n')
    const { text, html } = await render({ body }, { order })
    expect(text).toBe(
      '1 × Veil and 2 × <b>Hive</b>\n1 × Veil\n2 × <b>Hive</b>\nsome day\none day\nyes\nVEIL AND <B>HIVE</B>\n',
    )
    expect(html).not.toContain('<b>Hive')
  })
  test.each(['{{ order.items | as: "nonsense" }}', '{{ customer.first_name | as: "weekday" }}'])(
    '%s: nothing is sent',
    async (body) => {
      await expect(render({ body }, { order })).rejects.toThrow(/cannot be written as/)
    },
  )
})
