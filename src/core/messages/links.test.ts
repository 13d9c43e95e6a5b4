import { expect, test } from 'vitest'
import { aDefinition, anEmail } from '../../testing/builders.ts'
import type { MessageStep } from '../workflow/steps.ts'
import { linkProblem, meantAddress, siteFor } from './links.ts'
import { findMergeField, MERGE_FIELDS, newTag, templateParts } from './mergeFields.ts'

const SITE = 'https://combwright.example'

test.each([
  'https://x.example',
  'HTTP://x.example/a?b={{ order.number }}',
  'mailto:care@x.example?subject=Hives',
  'tel:+351210000000',
  '{{ order.tracking_url }}',
  '{{ order.tracking_url | default: "https://x.example" }}?from=mail',
  ' https://x.example ',
  'https://{{ shop.name }}.example',
  '{{ no.such_field }}',
])('%s can be opened', (href) => {
  expect(linkProblem(href, SITE)).toBeNull()
})

test.each<[string, string, string | null]>([
  ['', 'leads nowhere', null],
  ['https://', 'leads nowhere', null],
  ['x.example', 'leads to “x.example”, which is no web address', 'https://x.example'],
  ['guide', 'leads to “guide”, which is no web address', null],
  ['/guide', 'leads to “/guide”, which is no web address', null],
  ['javascript:alert(1)', 'leads to “javascript:alert(1)”, which is no web address', null],
  ['https:///x', 'leads to “https:///x”, which is no web address', null],
  ['{{ customer.email }}', 'leads to the email address, which is no web address', null],
  ['{{ basket.url | default: "there" }}', 'leads to “there” where the link to the basket is not known', `{{ basket.url | default: "${SITE}" }}`],
])('%s cannot', (href, says, better) => {
  expect(linkProblem(href, SITE)).toMatchObject({ says, better })
}) // prettier-ignore

test('what was meant by an address without its beginning', () => {
  expect(meantAddress('www.x.example/a b')).toBeNull()
  expect(meantAddress('e.g.')).toBeNull()
  expect(meantAddress('x.example?a=1')).toBe('https://x.example?a=1')
  expect(meantAddress('https://x.example')).toBeNull()
})

test('where the shop is: at the message’s own sender, or at that of one beside it', () => {
  const sms: MessageStep = { key: 's', kind: 'sms', name: 'S', purpose: 'marketing', body: 'Hi' }
  const mail = anEmail('m', { sender: { name: 'Maren', address: 'maren@x.example' } })
  expect(siteFor(mail, aDefinition({ steps: [] }))).toBe('https://x.example')
  expect(siteFor(sms, aDefinition({ steps: [sms, mail] }))).toBe('https://x.example')
  expect(siteFor(sms, aDefinition({ steps: [sms] }))).toBeNull()
  const unsent = anEmail('m', { sender: { name: '', address: 'maren' } })
  expect(siteFor(unsent, aDefinition({ steps: [mail] }))).toBeNull()
})

test('what is put in begins with words that read well, for a link with where the shop is', () => {
  const tag = (key: string, site: string | null = SITE) => {
    const field = findMergeField(key)
    return field && newTag(field, site)
  }
  expect(tag('customer.first_name')).toBe('{{ customer.first_name | default: "there" }}')
  expect(tag('subscription.ends_on')).toBe('{{ subscription.ends_on | default: "its last day" }}')
  expect(tag('order.number')).toBe('{{ order.number }}')
  expect(tag('basket.url')).toBe(`{{ basket.url | default: "${SITE}" }}`)
  expect(tag('basket.url', null)).toBe('{{ basket.url }}')
  // Nobody can say what a surname is where there is none.
  expect(tag('customer.last_name')).toBe('{{ customer.last_name }}')
})

test('what is suggested ends no tag', () => {
  for (const field of MERGE_FIELDS) {
    expect(templateParts(newTag(field, SITE))).toHaveLength(1)
    expect(newTag(field, SITE).match(/"/g)?.length ?? 0).toBeLessThan(3)
  }
})
