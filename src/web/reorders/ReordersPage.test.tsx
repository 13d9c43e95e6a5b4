import { fireEvent, screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { ReorderRow, ReordersResponse } from '../../contract/reorders.ts'
import { show } from '../testing/screen.tsx'
import { ReordersPage } from './ReordersPage.tsx'

const open = (reorders: ReordersResponse) => show(<ReordersPage />, { '/api/reorders': reorders })

const pellets: ReorderRow = {
  kind: 'product',
  key: 'p1',
  name: 'Smoker pellets, 2 kg',
  interval: {
    days: 39,
    low: 37,
    high: 40,
    soon: 20,
    late: 79,
    again: { share: 0.75, low: 0.73, high: 0.77 },
    purchases: 1712,
    repeats: 1093,
    variation: { within: 0.16, between: 0.16 },
  },
  check: {
    came: [
      { days: -10, count: 3 },
      { days: -2, count: 4 },
      { days: 5, count: 5 },
      { days: 30, count: 6 },
    ],
    notYet: 2,
  },
  soon: 143,
}
const others: ReorderRow = {
  ...pellets,
  kind: 'category',
  key: 'Books',
  name: 'Books',
  interval: { ...pellets.interval, days: 188, variation: null },
  check: null,
  soon: 7,
}

test('each product with its interval, and the first in words', async () => {
  open({ reckonedAt: 0, rows: [pellets, others] })
  const rows = await screen.findAllByRole('row')
  const cells = within(rows[1] as HTMLElement).getAllByRole('cell')
  expect(cells.map(({ textContent }) => textContent)).toEqual([
    'Smoker pellets, 2 kg',
    '39 days',
    '37 – 40',
    '20 – 79',
    '75 %',
    '1093',
    '143',
  ])
  const detail = screen.getByRole('region', { name: 'Smoker pellets, 2 kg' })
  expect(detail.textContent).toContain('Half of all repeats come within 39 days (most likely between 37 and 40 days); four in five between 20 and 79 days.') // prettier-ignore
  expect(detail.textContent).toContain('one gap of theirs counts for 50 %')
})

test('what would have come of asking earlier is counted anew', async () => {
  open({ reckonedAt: 0, rows: [pellets] })
  const detail = await screen.findByRole('region', { name: 'Smoker pellets, 2 kg' })
  expect(detail.textContent).toContain('Of 20 expected days in the last half year, asked 3 days before the expected day: 3 had bought it again already and would not have been asked, 4 did within a week, 11 later, and 2 have not yet.') // prettier-ignore
  fireEvent.change(within(detail).getByLabelText('Days ahead'), { target: { value: '0' } })
  expect(detail.textContent).toContain('asked on the expected day: 7 had bought it again already')
})

test('another product is opened; what cannot be held against anything says so', async () => {
  open({ reckonedAt: 0, rows: [pellets, others] })
  fireEvent.click(await screen.findByRole('button', { name: 'Others in Books' }))
  const detail = screen.getByRole('region', { name: 'Others in Books' })
  expect(detail.textContent).toContain('Too few have bought it three times')
  expect(detail.textContent).toContain('Half a year ago too little was known of it')
})

test('a shop with too few repeats is told what is missing', async () => {
  open({ reckonedAt: null, rows: [] })
  expect(await screen.findByText('No product is bought again often enough yet.')).toBeDefined()
})
