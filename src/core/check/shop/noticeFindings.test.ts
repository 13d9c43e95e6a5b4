import { expect, test } from 'vitest'
import { aDefinition, anEmail, on, wait } from '../../../testing/builders.ts'
import type { Definition } from '../../workflow/definition.ts'
import { noticeFindings, type NoticeSender } from './noticeFindings.ts'

const confirms = aDefinition({ trigger: on('order.placed'), steps: [anEmail('m')] })
const sentBy = (takenBy: string | null): NoticeSender[] => [
  { key: 'order-confirmation', takenBy, candidates: [{ id: 'w2', name: 'Confirmation' }] },
]
const titles = (definition: Definition, senders = sentBy(null)) =>
  noticeFindings(definition, 'w1', senders).map(({ title }) => title)

test('the shop’s own notice goes out beside it, or another workflow’s in its place', () => {
  expect(titles(confirms)).toEqual([
    'The shop sends a message of its own about this: “Order confirmation”.',
  ])
  expect(titles(confirms, sentBy('w2'))).toEqual([
    '“Confirmation” sends the shop’s “Order confirmation” already.',
  ])
})
test('not once this one has taken it over', () => {
  expect(titles(confirms, sentBy('w1'))).toEqual([])
})
test('what is said later, to other ends or about one line is no second confirmation', () => {
  const later = [wait('w', 'PT20M'), anEmail('m')]
  expect(titles({ ...confirms, steps: later })).toEqual([])
  expect(titles({ ...confirms, steps: [anEmail('m', { purpose: 'marketing' })] })).toEqual([])
  expect(titles({ ...confirms, trigger: on('order.placed', { per: 'line' }) })).toEqual([])
  expect(titles({ ...confirms, trigger: on('review.submitted') })).toEqual([])
  expect(titles(confirms, [])).toEqual([])
})
