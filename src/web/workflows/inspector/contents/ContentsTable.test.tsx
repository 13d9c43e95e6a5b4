import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { Step } from '../../../../core/workflow/steps.ts'
import { aDefinition, happened, on, ordersEver, START } from '../../../../testing/builders.ts'
import { inspect, press } from '../../../testing/inspector.tsx'

const branch = (key: string, name: string) => ({ key, name, when: ordersEver(2), steps: [] })
const split = (branches = [branch('b', 'Second order')]): Step => ({
  key: 's',
  kind: 'split',
  branches,
  otherwise: [],
})
const ORDERED = [
  { categories: ['Hives & frames'], orders: 1400, revenueMinor: 250_000, paths: [400, 1000] },
  { categories: ['Books', 'Feed'], orders: 60, revenueMinor: 9_000, paths: [60, 0] },
  { categories: [], orders: 3, revenueMinor: 900, paths: [0, 3] },
]

/** Opens the table of a split; the toggle is the browser's own. */
async function open(step: Step, ordered = ORDERED, since: number | null = null) {
  const definition = aDefinition({ trigger: on('order.placed'), steps: [step] })
  const now = await inspect(definition, { kind: 'step', key: 's' }, false, {
    '/api/conditions/combinations': { combinations: ordered, since },
  })
  const details = screen.getByText('What is ordered together').closest('details')
  if (!details) throw new Error('It can be opened')
  details.open = true
  fireEvent(details, new Event('toggle'))
  await screen.findByText('Hives & frames')
  const row = (text: string) => within(screen.getByText(text).closest('li') as HTMLElement)
  return { now, row }
}

test('what was ordered together, for how much, and which path it takes', async () => {
  const { row } = await open(split())
  expect(screen.getByText(/^Of 1,463 orders of the last year/)).toBeDefined()
  expect(row('Hives & frames').getByText('€2,500.00')).toBeDefined()
  expect(row('Hives & frames').getByText('→ Second order, everyone else')).toBeDefined()
  expect(row('Books + Feed').getByText('→ Second order')).toBeDefined()
  // What belongs to no category can have no path of its own.
  expect(row('no category').queryByRole('button')).toBeNull()
})

test('of a large shop it is less than a year, and that is said', async () => {
  await open(split(), ORDERED, START)
  expect(screen.getByText(/^Of 1,463 orders/).textContent).toContain('since 14 Apr')
})

test('a path is made for it, and the table stays for the next', async () => {
  const { now } = await open(split())
  press('Make a path for Books and Feed')
  await waitFor(() =>
    expect(now.definition.steps[0]).toMatchObject({
      branches: [
        { name: 'Books and Feed', when: { op: 'hasAll', value: ['Books', 'Feed'] } },
        { name: 'Second order' },
      ],
    }),
  )
  expect(now.selection).toEqual({ kind: 'step', key: 's' })
  press('Make a path for Hives & frames')
  await waitFor(() =>
    expect(now.definition.steps[0]).toMatchObject({
      branches: [{ name: 'Hives & frames' }, { name: 'Books and Feed' }, { name: 'Second order' }],
    }),
  )
})

test('those ordered most that have no path get one each in one go', async () => {
  const { now } = await open(split(), [
    { categories: ['Honey'], orders: 900, revenueMinor: 1, paths: [0, 900] },
    ...ORDERED,
    { categories: ['Feed'], orders: 40, revenueMinor: 1, paths: [0, 40] },
  ])
  fireEvent.click(await screen.findByRole('button', { name: 'Make paths for the 2 ordered most' }))
  await waitFor(() =>
    expect(now.definition.steps[0]).toMatchObject({
      branches: [{ name: 'Honey' }, { name: 'Feed' }, { name: 'Second order' }],
    }),
  )
})

test('where there are as many paths as there can be, none is offered', async () => {
  const full = Array.from({ length: 24 }, (_, index) => branch(`b${index}`, `Path ${index}`))
  await open(split(full))
  expect(screen.queryByRole('button', { name: /^Make a path/ })).toBeNull()
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add a path' }).disabled).toBe(true)
})

test('of what starts with no order, nothing was ordered together', async () => {
  const definition = aDefinition({
    trigger: on('customer.created', { filter: happened('order.placed') }),
    steps: [split()],
  })
  await inspect(definition, { kind: 'step', key: 's' })
  expect(screen.queryByText('What is ordered together')).toBeNull()
})
