import { expect, test } from 'vitest'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { listItem as workflow } from '../../testing/listItem.ts'
import { labelsOf, shownWorkflows, type ListView } from './listView.ts'

const VIEW: ListView = {
  search: '',
  label: null,
  sort: 'name',
  down: false,
  byTrigger: false,
  days: 30,
}
const names = (all: WorkflowListItem[], over: Partial<ListView> = {}) =>
  shownWorkflows(all, { ...VIEW, ...over }).map(({ title, workflows }) => [
    title,
    workflows.map(({ name }) => name).join(' '),
  ])

const sent = (count: number) => ({ numbers: { sent: count } })
const due = (at: number | null) => ({ numbers: { nextDueAt: at } })

test('sorted by name, or by a figure from the largest', () => {
  const all = [workflow('B', sent(1)), workflow('a', sent(3)), workflow('c', sent(1))]
  expect(names(all)).toEqual([[null, 'a B c']])
  expect(names(all, { sort: 'sent', down: true })).toEqual([[null, 'a B c']])
})
test('what has no next step stands last, whichever way', () => {
  const all = [workflow('none', due(null)), workflow('late', due(9)), workflow('soon', due(1))]
  expect(names(all, { sort: 'nextDueAt' })).toEqual([[null, 'soon late none']])
  expect(names(all, { sort: 'nextDueAt', down: true })).toEqual([[null, 'late soon none']])
})
test('by trigger, in the order they are tried: by priority, then by age', () => {
  const all = [
    workflow('old'),
    workflow('new'),
    workflow('first', { priority: 90 }),
    workflow('other', { trigger: 'subscription.nextPaymentAt' }),
  ]
  expect(names(all, { byTrigger: true })).toEqual([
    ['next payment', 'other'],
    ['order placed', 'first old new'],
  ])
})
test('by label and by what is searched', () => {
  const all = [
    workflow('Thanks', { labels: ['Orders'] }),
    workflow('Basket', { labels: ['Recovery'] }),
  ]
  expect(labelsOf(all)).toEqual(['Orders', 'Recovery'])
  expect(names(all, { label: 'Orders' })).toEqual([[null, 'Thanks']])
  expect(names(all, { search: 'recov' })).toEqual([[null, 'Basket']])
})
