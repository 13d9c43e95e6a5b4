import fc from 'fast-check'
import { expect, test } from 'vitest'
import { aDefinition, anEmail, end, on, wait } from '../../testing/builders.ts'
import { definitions } from '../../testing/model/arbitraries.ts'
import type { Block } from '../blocks/blocks.ts'
import { definitionSchema, type Definition } from '../workflow/definition.ts'
import type { EmailStep, Step } from '../workflow/steps.ts'
import { addressFindings } from './message/addressFindings.ts'
import { findingId, type Finding } from './finding.ts'
import { goLiveFindings } from './goLive.ts'

/** What a repair leaves of a definition, and whether the finding has gone. */
function mended(definition: Definition, code: string, find = goLiveFindings) {
  const finding = find(definition).find((one) => one.code === code)
  if (!finding?.repair) throw new Error(`There is no ${code} that can be mended`)
  const after = finding.repair.mend(definition)
  expect(find(after).map(findingId)).not.toContain(findingId(finding))
  return { label: finding.repair.label, after: definitionSchema.parse(after) }
}

const message = (over: Partial<EmailStep>, trigger = on('order.placed')) =>
  aDefinition({ trigger, steps: [anEmail('m', over)] })
const firstMail = ({ steps }: Definition) => steps.find((step) => step.kind === 'email')
const designed = (...blocks: Block[]) => message({ format: 'designed', blocks })
const button = (href: string): Block => ({ key: 'b', kind: 'button', label: 'Go on', href })
const linkOf = (definition: Definition) => {
  const block = firstMail(definition)?.blocks?.[0]
  return block?.kind === 'button' ? block.href : undefined
}

test.each([
  ['Hello {{customer.first_name}}!', 'customer.first_name', 'Hello {{customer.first_name | default: "there" }}!'],
  ['Hi {{ customer.firstname }}', 'customer.firstname', 'Hi {{ customer.first_name | default: "there" }}'],
  ['Hi {{ first_name | default: "you" }}', 'first_name', 'Hi {{ customer.first_name | default: "you" }}'],
  ['{{ order.nunber }}', 'order.nunber', '{{ order.number }}'],
  ['{{ order.total | as: "weekday" }}', 'order.total', '{{ order.total }}'],
  ['See {{ order.tracking_url }}', 'order.tracking_url', 'See {{ order.tracking_url | default: "https://combwright.example" }}'],
])('the merge field in %s', (body, key, becomes) => {
  const { after } = mended(message({ body }), `field-${key}`)
  expect(firstMail(after)?.body).toBe(becomes)
}) // prettier-ignore

test('what nothing is near, or reads well in the place of, is left to whoever writes', () => {
  const repairs = (body: string) => goLiveFindings(message({ body })).map(({ repair }) => repair)
  expect(repairs('{{ order.wishes }}')).toEqual([undefined])
  expect(repairs('{{ customer.last_name }}')).toEqual([undefined])
})

test('a field is mended wherever the message has it, and nowhere else', () => {
  const text: Block = { key: 't', kind: 'text', text: [{ kind: 'list', ordered: false, items: [[{ text: 'Dear {{ customer.first_name }}' }]] }] } // prettier-ignore
  const heading = { key: 'h', kind: 'heading', level: 1, text: 'For {{ customer.first_name | default: "you" }}' } as const // prettier-ignore
  const columns: Block = { key: 'c', kind: 'columns', columns: [[heading], []] }
  const definition = message({
    subject: '{{ customer.first_name }}',
    format: 'designed',
    body: '',
    blocks: [text, columns],
  })
  const { after } = mended(definition, 'field-customer.first_name')
  const written = JSON.stringify(firstMail(after))
  expect(written.match(/default: \\"there\\"/g)).toHaveLength(2)
  expect(written.match(/default: \\"you\\"/g)).toHaveLength(1)
})

test.each([
  ['combwright.example/guide', 'https://combwright.example/guide'],
  ['care@combwright.example', 'mailto:care@combwright.example'],
  [
    '{{ order.tracking_url | default: "there" }}',
    '{{ order.tracking_url | default: "https://combwright.example" }}',
  ],
])('a button that leads to %s', (href, becomes) => {
  const { label, after } = mended(designed(button(href)), 'link-b')
  expect(linkOf(after)).toBe(becomes)
  expect(label).toMatch(/^Make it (https:|mailto:)/)
})

test('a link in a text, and the address of an image', () => {
  const text: Block = { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'www.x.example', href: 'www.x.example' }] }] } // prettier-ignore
  const { after } = mended(designed(text), 'link-t')
  expect(firstMail(after)?.blocks).toEqual([{ key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'www.x.example', href: 'https://www.x.example' }] }] }]) // prettier-ignore
  const image: Block = { key: 'i', kind: 'image', src: 'x.example/a.png', alt: 'A bee', width: 9 }
  expect(mended(designed(image, text), 'link-i').label).toBe('Make it https://x.example/a.png')
})

test('http becomes https, also within words', () => {
  const { after } = mended(message({ body: 'See http://x.example/a or http://y.example' }), 'http-link') // prettier-ignore
  expect(firstMail(after)?.body).toBe('See https://x.example/a or https://y.example')
})

test('what is written as by hand waits a while', () => {
  const { after } = mended(message({ body: 'Thank you!\nMaren' }), 'instant-thanks')
  expect(after.steps[0]).toMatchObject({ kind: 'wait', for: 'PT20M' })
})

test('a review is asked for three weeks after the order, with what has been waited already', () => {
  const body = 'Would you write a review?\nMaren'
  expect(mended(message({ body }), 'review-early').label).toBe('Wait 21 days before it')
  const later = aDefinition({ steps: [wait('w', 'P7D'), anEmail('m', { body })] })
  const { label, after } = mended(later, 'review-early')
  expect(label).toBe('Wait 14 more days before it')
  expect(after.steps.map((step) => step.kind === 'wait' && step.for)).toEqual(['P7D', 'P14D', false]) // prettier-ignore
})

test('whoever signs is the sender', () => {
  const { after } = mended(message({ body: 'All the best\nTiago and Aoife' }), 'signature')
  expect(firstMail(after)?.sender).toEqual({ name: 'Tiago and Aoife', address: 'maren@combwright.example' }) // prettier-ignore
})

test('the words on a button sign nothing', () => {
  const codes = (blocks: Block[]) => goLiveFindings(designed(...blocks)).map(({ code }) => code)
  const letter: Block = { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'All the best\nTiago' }] }] } // prettier-ignore
  const shop: Block = { ...button('https://x.example'), kind: 'button', label: 'Shop Now' } as Block
  expect(codes([shop, shop])).not.toContain('signature')
  expect(codes([letter, shop])).toContain('signature')
})

test('what sells is marketing', () => {
  const { after } = mended(message({ body: 'Twenty per cent: 20% off' }), 'sales-in-transactional')
  expect(firstMail(after)?.purpose).toBe('marketing')
})

test('a text message says how to end such texts', () => {
  const sms: Step = { key: 'x', kind: 'sms', name: 'Text', purpose: 'marketing', body: 'New hives ' } // prettier-ignore
  const { after } = mended(aDefinition({ steps: [sms] }), 'no-way-out')
  expect(after.steps[0]).toMatchObject({ body: 'New hives STOP to end texts' })
})

test('two mails at one moment are parted; an end that shuts others off goes', () => {
  const two = aDefinition({ steps: [anEmail('a'), anEmail('b')] })
  expect(mended(two, 'same-moment').after.steps[1]).toMatchObject({ kind: 'wait', for: 'P1D' })
  const shut = aDefinition({ steps: [end('e'), anEmail('b')] })
  expect(mended(shut, 'unreached').after.steps.map(({ key }) => key)).toEqual(['b'])
})

test('codes that can be guessed, an experiment that goes one way', () => {
  const coupon: Step = { key: 'c', kind: 'coupon', name: 'C', pattern: 'BEE-###-X', discount: { kind: 'percent', percent: 10 } } // prettier-ignore
  const { after } = mended(aDefinition({ steps: [coupon, anEmail('m')] }), 'short-coupon')
  expect(after.steps[0]).toMatchObject({ pattern: 'BEE-########-X' })
  const arm = (key: string) => ({ key, name: key, weight: key === 'a' ? 3 : 0, holdout: false, steps: [] }) // prettier-ignore
  const experiment: Step = { key: 'x', kind: 'experiment', name: 'X', lottery: 'x', arms: [arm('a'), arm('b')] } // prettier-ignore
  const parted = mended(aDefinition({ steps: [experiment] }), 'no-weights').after.steps[0]
  expect(parted).toMatchObject({ arms: [{ weight: 1 }, { weight: 1 }] })
})

test('a group that is gone is taken out', () => {
  const book = {
    postalAddress: 'Sintra',
    senders: [],
    groups: [{ key: 'care', name: 'Care', addresses: ['a@x.example'] }],
  }
  const find = (definition: Definition): Finding[] => addressFindings(definition, book)
  const both = mended(message({ groups: ['care', 'gone'] }), 'group-gone', find)
  expect(firstMail(both.after)?.groups).toEqual(['care'])
  const one = mended(message({ groups: ['gone'] }), 'group-gone', find)
  expect(firstMail(one.after)).not.toHaveProperty('groups')
})

test('whatever the workflow: a repair leaves a document, without the finding (property)', () => {
  let mending = 0
  fc.assert(
    fc.property(definitions, (definition) => {
      for (const finding of goLiveFindings(definition)) {
        if (!finding.repair) continue
        mending += 1
        const after = definitionSchema.parse(finding.repair.mend(definition))
        expect(goLiveFindings(after).map(findingId)).not.toContain(findingId(finding))
      }
    }),
    { numRuns: 200 },
  )
  expect(mending).toBeGreaterThan(0)
})
