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
    within: [2, 5, 9, 12],
    firstOrders: 4,
    givenAwayMinor: 9805,
    anyway: { got: { people: 200, ordered: 60 }, heldOut: { people: 100, ordered: 12 } },
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
    '2 · 5 · 9 · 12',
    '4 of 12',
    '20',
    '8',
    '€980.50',
    '€98.05',
  ])
  expect(rows).toHaveLength(3)
  const anyway = screen.getByRole('region', { name: 'Would they have ordered anyway?' })
  expect(anyway.textContent).toContain('of 200 people who got a code 30 % ordered within 30 days')
  expect(anyway.textContent).toMatch(/who were held out 12 %. The code, with its message, moves/)
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
