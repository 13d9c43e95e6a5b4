import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test } from 'vitest'
import { done, show, type Answers } from '../../testing/screen.tsx'
import { listItem } from '../../testing/listItem.ts'
import { ListPage } from './ListPage.tsx'

const ALL = [
  listItem('Thanks', { labels: ['orders'], numbers: { sent: 40, inProgress: 3 }, priority: 10 }),
  listItem('Renewal', { trigger: 'subscription.renewed', startsWhen: 'subscription renewed', numbers: { sent: 7 }, state: 'draft', liveVersion: null }),
  listItem('After dispatch', { labels: ['orders', 'care'], numbers: { sent: 120, inProgress: 2 }, earned: { orders: 2, revenueMinor: 9_600 }, hasUnpublishedChanges: true, priority: 90 }),
] // prettier-ignore

const list = (answers: Answers = {}) =>
  show(<ListPage />, {
    '/api/workflows?days=30': ALL,
    '/api/workflows?days=90': ALL,
    ...answers,
  })
/** The names in the order of the rows. */
const names = () => screen.getAllByRole('link').map(({ textContent }) => textContent).filter((name) => name !== 'Recipes') // prettier-ignore
const row = (name: string) => within(screen.getByRole('link', { name }).closest('tr') as HTMLElement) // prettier-ignore
const sortBy = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

test('by name at first; figures from the largest down, and back', async () => {
  list()
  await screen.findByRole('link', { name: 'Thanks' })
  expect(names()).toEqual(['After dispatch', 'Renewal', 'Thanks'])
  sortBy('Sent')
  expect(names()).toEqual(['After dispatch', 'Thanks', 'Renewal'])
  expect(screen.getByRole('columnheader', { name: 'Sent' }).getAttribute('aria-sort')).toBe('descending') // prettier-ignore
  sortBy('Sent')
  expect(names()).toEqual(['Renewal', 'Thanks', 'After dispatch'])
})

test('a row says what it is, what it earned, and that its draft differs', async () => {
  list()
  await screen.findByRole('link', { name: 'After dispatch' })
  expect(row('After dispatch').getByText('€96.00')).toBeDefined()
  expect(row('After dispatch').getByText('draft differs')).toBeDefined()
  expect(row('Renewal').queryByText(/€/)).toBeNull()
})

test('searched by name, trigger and label; nothing found is said', async () => {
  list()
  await screen.findByRole('link', { name: 'Thanks' })
  const search = screen.getByLabelText('Search workflows')
  await userEvent.type(search, 'renewed')
  expect(names()).toEqual(['Renewal'])
  await userEvent.clear(search)
  await userEvent.type(search, 'care')
  expect(names()).toEqual(['After dispatch'])
  await userEvent.type(search, ' of nothing')
  expect(screen.getByText('No workflow has that in its name, trigger or labels.')).toBeDefined()
})

test('a label filters, pressed again it does not', async () => {
  list()
  const label = await screen.findByRole('button', { name: 'orders' })
  fireEvent.click(label)
  expect(names()).toEqual(['After dispatch', 'Thanks'])
  fireEvent.click(label)
  expect(names()).toHaveLength(3)
})

test('in groups by trigger, the highest priority first', async () => {
  list()
  await screen.findByRole('link', { name: 'Thanks' })
  await userEvent.click(screen.getByLabelText('by trigger, highest priority first'))
  expect(names()).toEqual(['After dispatch', 'Thanks', 'Renewal'])
  expect(screen.getAllByRole('rowheader')).toHaveLength(2)
  expect(row('After dispatch').getByText('90')).toBeDefined()
  expect(screen.queryByRole('button', { name: 'Sent' })).toBeNull()
})

test('figures of another span are asked for', async () => {
  const asked = list()
  await screen.findByRole('link', { name: 'Thanks' })
  await userEvent.selectOptions(screen.getByLabelText(/^figures of the last/), '90')
  await waitFor(() => expect(asked.map(({ path }) => path)).toContain('/api/workflows?days=90'))
})

test('several are paused at once: only those that are live, and what that holds is said', async () => {
  const asked = list({
    'POST /api/workflows/Thanks/pause': done,
    'POST /api/workflows/After dispatch/pause': done,
  })
  for (const { name } of ALL) await userEvent.click(await screen.findByLabelText(`Choose ${name}`))
  const bar = within(screen.getByRole('group', { name: 'Chosen workflows' }))
  expect(bar.getByText('3 workflows chosen')).toBeDefined()
  expect(bar.getByText('1 of them not live')).toBeDefined()
  fireEvent.click(bar.getByRole('button', { name: 'Pause 2 live workflows' }))
  const dialog = screen.getByRole('alertdialog')
  expect(dialog.textContent).toContain('5 runs in progress will be held')
  fireEvent.click(within(dialog).getByRole('button', { name: 'Pause them' }))
  expect(await screen.findByText('Paused 2 workflows.')).toBeDefined()
  expect(asked.filter(({ method }) => method === 'POST')).toHaveLength(2)
  expect(screen.queryByRole('group', { name: 'Chosen workflows' })).toBeNull()
})

test('an empty shop is told how to begin', async () => {
  list({ '/api/workflows?days=30': [] })
  expect(await screen.findByText('No workflows yet.')).toBeDefined()
})

test('figures of another span are marked as old until those of the new one have come', async () => {
  let answer: (all: unknown) => void = () => {}
  list({ '/api/workflows?days=90': () => new Promise((resolve) => (answer = resolve)) })
  const link = await screen.findByRole('link', { name: 'Thanks' })
  await userEvent.selectOptions(screen.getByLabelText(/^figures of the last/), '90')
  expect((await screen.findByText('Counting…')).closest('[aria-busy=true]')?.contains(link)).toBe(
    true,
  )
  answer(ALL)
  await waitFor(() => expect(screen.queryByText('Counting…')).toBeNull())
})
