import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import { goLiveFindings } from '../../../core/check/goLive.ts'
import { RECIPES } from '../../../core/recipes/index.ts'
import { definitionSchema } from '../../../core/workflow/definition.ts'
import { refusal, show, type Answers } from '../../testing/screen.tsx'
import { RecipesPage } from './RecipesPage.tsx'

const BRUSH = { id: 'p1', title: 'Bee brush', category: null, priceMinor: 650, currency: 'EUR' }
const COMBINATIONS = [
  { categories: ['Books'], orders: 3, revenueMinor: 1, paths: [] },
  { categories: ['Hives & frames', 'Protective wear'], orders: 40, revenueMinor: 1, paths: [] },
]

function open(answers: Answers = {}, role: 'marketer' | 'staff' = 'marketer') {
  const asked = show(
    <RecipesPage />,
    {
      '/api/addresses': { senders: [], groups: [], postalAddress: 'Sintra' },
      '/api/conditions/combinations': { combinations: COMBINATIONS, since: null },
      '/api/counter/products': [BRUSH],
      'GET /api/workflows': [],
      'POST /api/workflows': { id: 'new' },
      ...answers,
    },
    { role },
  )
  const made = () =>
    asked
      .filter(({ method, path }) => method === 'POST' && path === '/api/workflows')
      .map(({ body }) => definitionSchema.parse((body as { definition: unknown }).definition))
  return { made }
}

const cards = () => screen.getAllByRole('listitem').filter((one) => one.querySelector('h2'))

test('each recipe says what it is for and when it starts, and is used as it stands', async () => {
  const { made } = open()
  await waitFor(() => expect(screen.getAllByText('Bee brush').length).toBeGreaterThan(0))
  expect(cards()).toHaveLength(RECIPES.length)
  for (const [index, card] of cards().entries()) {
    expect(within(card).getByText(RECIPES[index]?.purpose ?? '')).toBeDefined()
  }
  const ready = screen
    .getAllByRole<HTMLButtonElement>('button', { name: /^Use the recipe/ })
    .filter(({ disabled }) => !disabled)
  expect(ready).toHaveLength(RECIPES.filter(({ asks }) => asks === undefined).length)
  for (const button of ready) fireEvent.click(button)
  await waitFor(() => expect(made()).toHaveLength(ready.length))
  const stopped = made().filter((one) => goLiveFindings(one).some(({ severity }) => severity === 'error')) // prettier-ignore
  expect(stopped.map(({ name }) => name)).toEqual([])
})

test('one about a product asks which', async () => {
  const { made } = open()
  // More than one recipe asks; this is the first.
  const [which] = await screen.findAllByLabelText<HTMLSelectElement>('Which product?')
  if (!which) throw new Error('None asks')
  await within(which).findByText('Bee brush')
  const card = within(which.closest('li') as HTMLElement)
  const use = card.getByRole<HTMLButtonElement>('button')
  expect(use.disabled).toBe(true)
  fireEvent.change(which, { target: { value: 'p1' } })
  expect(card.getByRole('heading').textContent).toContain('Bee brush')
  fireEvent.click(use)
  await waitFor(() => expect(JSON.stringify(made()[0])).toContain('"p1"'))
  fireEvent.change(which, { target: { value: '' } })
  expect(use.disabled).toBe(true)
})

test('they speak of what the shop sells most', async () => {
  const { made } = open()
  const use = screen.getByRole('button', { name: 'Use the recipe After dispatch' })
  // Nothing on the screen tells when that is known.
  await waitFor(() => {
    fireEvent.click(use)
    expect(JSON.stringify(made())).toContain('Hives & frames')
  })
})

test('who may only look reads them', async () => {
  open({}, 'staff')
  await waitFor(() => expect(cards()).toHaveLength(RECIPES.length))
  expect(screen.queryByRole('button', { name: /^Use the recipe/ })).toBeNull()
})

test('what went wrong is said', async () => {
  const refused = () => refusal(500, 'It broke.')
  open({ 'POST /api/workflows': refused })
  const [first] = await screen.findAllByRole('button', { name: /^Use the recipe/ })
  fireEvent.click(first as HTMLElement)
  expect(await screen.findByText('It broke.')).toBeDefined()
})

test('none is made before the shop’s categories and groups are known', async () => {
  let answer: (value: unknown) => void = () => undefined
  const known = new Promise((resolve) => (answer = resolve))
  const { made } = open({ '/api/conditions/combinations': () => known })
  const use = await screen.findByRole<HTMLButtonElement>('button', { name: 'Use the recipe After dispatch' }) // prettier-ignore
  // It can be chosen at once, and says what it waits for.
  expect(use.disabled).toBe(false)
  fireEvent.click(use)
  expect(use.textContent).toBe('Looking at what the shop sells…')
  expect(made()).toHaveLength(0)
  answer({ combinations: COMBINATIONS, since: null })
  await waitFor(() => expect(made()).toHaveLength(1))
  expect(made()[0]?.steps.map(({ kind }) => kind)).toEqual(['email', 'wait', 'split'])
})

test('comes with examples of its paths and exclusions, of people who buy what the shop sells', async () => {
  const { made } = open({
    '/api/clock': { now: Date.UTC(2026, 3, 14, 10, 20), movedByHand: true, target: null },
    '/api/shop-rules': { messageGap: null, quietHours: { from: '21:00', to: '08:00' }, hookSecret: null, holdoutSince: null, holdoutPercent: null },
  })
  await screen.findAllByLabelText('Which product?')
  await waitFor(() => expect(screen.getAllByText('Bee brush').length).toBeGreaterThan(0))
  fireEvent.click(screen.getByRole('button', { name: 'Use the recipe Open checkout' }))
  await waitFor(() => expect(made()).toHaveLength(1), { timeout: 10_000 })
  const { examples = [], name } = made()[0] ?? {}
  expect(name).toBe('Open checkout')
  expect(examples.map((one) => one.name)).toContain('Somebody new, and nothing else happens')
  expect(examples.some(({ outcome }) => outcome.exclusions.length > 0)).toBe(true)
  expect(examples.flatMap(({ subject }) => subject.lines.map(({ productId }) => productId))).toContain('p1')
}) // prettier-ignore
