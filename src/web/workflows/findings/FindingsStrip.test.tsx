import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { expect, test } from 'vitest'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { SplitBranch } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail, on } from '../../../testing/builders.ts'
import { show } from '../../testing/screen.tsx'
import { FindingsStrip } from './FindingsStrip.tsx'
import type { Selection } from '../selection.ts'

const ANSWERS = {
  '/api/live-workflows': [],
  '/api/notices': [
    {
      key: 'order-confirmation',
      label: 'Order confirmation',
      takenBy: null,
      candidates: [],
      trouble: null,
    },
  ],
  '/api/addresses': {
    postalAddress: 'Rua das Colmeias 12, Sintra',
    senders: [{ name: 'Maren', address: 'maren@combwright.example', verified: true }],
    groups: [],
  },
  'POST /api/conditions/combinations': (body: unknown) => ({
    combinations: ORDERED_TOGETHER(body),
    since: null,
  }),
}
/** As the server counts them: those for whom a path is made take it from then on. */
const ORDERED_TOGETHER = (body: unknown) => {
  const { branches } = body as { branches: { op: string }[] }
  const hasOwn = branches[0]?.op === 'hasAll'
  return [
    {
      categories: ['Feed', 'Hives'],
      orders: 40,
      revenueMinor: 1,
      paths: hasOwn ? [40, 0, 0, 0] : [40, 0, 0],
    },
  ]
}

const SENDER = { name: 'Maren', address: 'maren@combwright.example' }

function strip(first: Definition, mayEdit = true) {
  const now: { definition: Definition; selection: Selection | null } = {
    definition: first,
    selection: null,
  }
  function Page() {
    const [definition, setDefinition] = useState(first)
    const edit = (make: (before: Definition) => Definition) => {
      now.definition = make(now.definition)
      setDefinition(now.definition)
    }
    return (
      <FindingsStrip
        id="w"
        definition={definition}
        onShow={({ place }) => (now.selection = place)}
        onEdit={mayEdit ? edit : undefined}
      />
    )
  }
  show(<Page />, ANSWERS)
  return now
}

const finding = async (title: RegExp) =>
  within((await screen.findByText(title)).closest('li') as HTMLElement)

test('a finding leads to its place', async () => {
  const now = strip(aDefinition({ steps: [anEmail('m', { sender: SENDER, subject: '' })] }))
  const card = await finding(/subject/i)
  expect(card.getByText('Stops going live')).toBeDefined()
  fireEvent.click(card.getByText('Stops going live'))
  expect(now.selection).toEqual({ kind: 'step', key: 'm' })
  expect(card.queryByRole('button', { name: /It is right so/ })).toBeNull()
})

/** Whoever starts many checkouts gets it every time. */
const series = () =>
  aDefinition({
    trigger: on('checkout.started'),
    exclusions: [],
    steps: [anEmail('m', { sender: SENDER, purpose: 'marketing', subject: 'Still there' })],
  })
const AGAIN = 'The same person can get this series again and again.'

test('a finding is mended at once, and once only', async () => {
  const now = strip(series())
  const card = await finding(new RegExp(AGAIN))
  const repair = card.getByRole<HTMLButtonElement>('button', { name: 'Again after 30 days only' })
  fireEvent.click(repair)
  expect(now.definition.entry.rule).toEqual({ kind: 'after', duration: 'P30D' })
  // Until the check has looked again.
  expect(repair.disabled).toBe(true)
  await waitFor(() => expect(screen.queryByText(AGAIN)).toBeNull())
})

test('a warning is answered with a reason that stays, and opened again', async () => {
  const now = strip(series())
  const name = `Say why it is right: ${AGAIN}`
  fireEvent.click(await screen.findByRole('button', { name }))
  const keep = await screen.findByRole<HTMLButtonElement>('button', { name: 'Keep' })
  expect(keep.disabled).toBe(true)
  // The keyboard is in the field at once, and back at the button when one thinks better of it.
  await userEvent.keyboard('{Escape}')
  expect(document.activeElement).toBe(screen.getByRole('button', { name }))
  await userEvent.keyboard('{Enter} We want it. {Enter}')
  expect(now.definition.answered).toEqual([expect.objectContaining({ note: 'We want it.' })])
  const shown = await screen.findByRole('button', { name: '1 answered' })
  // What had the keyboard is gone: it goes on to what has come in its place.
  await waitFor(() => expect(document.activeElement).not.toBe(document.body))
  fireEvent.click(shown)
  expect(await screen.findByText('Right so: We want it.')).toBeDefined()
  fireEvent.click(screen.getByRole('button', { name: 'Open again' }))
  expect(await screen.findByRole('button', { name })).toBeDefined()
  expect(now.definition.answered ?? []).toEqual([])
})

test('who may only look sees what is found, and mends nothing', async () => {
  strip(aDefinition({ steps: [anEmail('m', { sender: SENDER, subject: 'Dear {{ customer.first_name }}' })] }), false) // prettier-ignore
  const card = await finding(/first name is not known of everyone/)
  expect(card.getAllByRole('button')).toHaveLength(1)
})

test('of many of one kind the first are shown, the others when asked for', async () => {
  const unwritten = ['a', 'b', 'c', 'd'].map((key) => anEmail(key, { sender: SENDER, subject: '' }))
  strip(aDefinition({ steps: unwritten }))
  const more = await screen.findByRole('button', { name: '2 more like these' })
  const cards = () => screen.getAllByText('Stops going live').length
  expect(more.getAttribute('aria-expanded')).toBe('false')
  const few = cards()
  fireEvent.click(more)
  expect(cards()).toBe(few + 2)
  expect(more.textContent).toBe('Show fewer')
  fireEvent.click(more)
  expect(cards()).toBe(few)
})

test('one more than are shown is shown as well', async () => {
  const unwritten = ['a', 'b', 'c'].map((key) => anEmail(key, { sender: SENDER, subject: '' }))
  strip(aDefinition({ steps: unwritten }))
  await screen.findAllByText('Stops going live')
  expect(screen.queryByRole('button', { name: /more like/ })).toBeNull()
})

test('what the shop’s orders say of a split is found as well, and mended', async () => {
  const path = (key: string, name: string): SplitBranch => ({
    key,
    name,
    when: { kind: 'field', field: 'order.categories', op: 'hasAny', value: [name] },
    steps: [],
  })
  const now = strip(
    aDefinition({
      steps: [
        {
          key: 's',
          kind: 'split',
          branches: [path('h', 'Hives'), path('f', 'Feed')],
          otherwise: [],
        },
      ],
    }),
  )
  const card = await finding(/The path “Hives” also takes those who bought of Feed: 40 of 40/)
  fireEvent.click(card.getByRole('button', { name: 'Make a path for both' }))
  const [split] = now.definition.steps
  expect(split?.kind === 'split' && split.branches.map(({ name }) => name)).toEqual([
    'Feed and Hives',
    'Hives',
    'Feed',
  ])
  await waitFor(() => expect(screen.queryByText(/also takes those/)).toBeNull())
})

test('this workflow and the shop say the same at the same time', async () => {
  strip(aDefinition({ steps: [anEmail('m', { sender: SENDER, subject: 'Your order' })] }))
  const card = await finding(/The shop sends a message of its own about this/)
  expect(card.getByText(/“Order confirmation”/)).toBeDefined()
})
