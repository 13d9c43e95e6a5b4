import { screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { CouponsResponse } from '../../contract/coupons.ts'
import { show } from '../testing/screen.tsx'
import { CouponsPage } from './CouponsPage.tsx'

const open = (coupons: CouponsResponse) => show(<CouponsPage />, { '/api/coupons': coupons })

test('what became of the codes of each step', async () => {
  const spring = {
    workflowId: 'w1',
    workflow: 'Back again',
    step: 'c',
    name: 'Ten off',
    issued: 40,
    redeemed: 12,
    expired: 20,
    revenueMinor: 98_050,
  }
  open({ steps: [spring, { ...spring, step: 'd', name: 'Last try' }], waiting: [] })
  const rows = await screen.findAllByRole('row')
  const cells = within(rows[1] as HTMLElement).getAllByRole('cell')
  // Neither redeemed nor expired: those can still come.
  expect(cells.map(({ textContent }) => textContent)).toEqual([
    'Ten off',
    'Back again',
    '40',
    '12 of 40',
    '20',
    '8',
    '€980.50',
  ])
  expect(rows).toHaveLength(3)
  expect(screen.getByText('Nobody.')).toBeDefined()
})

test('who seems to wait for codes is named', async () => {
  const waiting = [{ customerId: 'c1', name: 'Edith Moran', issued: 5, redeemed: 4, lastAt: 0 }]
  open({ steps: [], waiting })
  expect(await screen.findByText('No code has been issued yet.')).toBeDefined()
  const people = screen.getByRole('region', { name: 'People who seem to wait for a code' })
  expect(within(people).getByRole('cell', { name: '4 of 5' })).toBeDefined()
  expect(within(people).getByRole('cell', { name: 'Edith Moran' })).toBeDefined()
})
