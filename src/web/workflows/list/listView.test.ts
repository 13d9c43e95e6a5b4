import { expect, test } from 'vitest'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { listItem as workflow } from '../../testing/listItem.ts'
import { labelsOf, shownWorkflows, type ListView } from './listView.ts'

const VIEW = { search: '', label: null, byTrigger: false }
const names = (all: WorkflowListItem[], over: Partial<ListView> = {}) =>
  shownWorkflows(all, { ...VIEW, ...over }).map(({ name }) => name)

test('by trigger, in the order they are tried: by priority, then by age', () => {
  const all = [
    workflow('old'),
    workflow('new'),
    workflow('first', { priority: 90 }),
    workflow('other', { trigger: 'subscription.nextPaymentAt' }),
  ]
  expect(names(all, { byTrigger: true })).toEqual(['other', 'first', 'old', 'new'])
})
test('by label and by what is searched', () => {
  const all = [
    workflow('Thanks', { labels: ['Orders'] }),
    workflow('Basket', { labels: ['Recovery'] }),
  ]
  expect(labelsOf(all)).toEqual(['Orders', 'Recovery'])
  expect(names(all, { label: 'Orders' })).toEqual(['Thanks'])
  expect(names(all, { search: 'recov' })).toEqual(['Basket'])
})
