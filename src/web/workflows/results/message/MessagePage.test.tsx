import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { expect, test } from 'vitest'
import type { MessageDetail, ResultsResponse } from '../../../../contract/results.ts'
import { aDefinition, anEmail } from '../../../../testing/builders.ts'
import { NO_NUMBERS } from '../../../testing/listItem.ts'
import { show, type Answers } from '../../../testing/screen.tsx'
import { nothingOf } from '../shownResults.ts'
import { markLinks } from './markLinks.ts'
import { MessagePage } from './MessagePage.tsx'

const TAKEN: MessageDetail = {
  links: [{ url: 'https://example.org/guide', people: 4 }],
  hours: [
    { at: 9, delivered: 400, opened: 200, clicked: 20 },
    { at: 10, delivered: 400, opened: 120, clicked: 20 },
    { at: 3, delivered: 5, opened: 5, clicked: 0 },
  ],
  weekdays: [
    { at: 1, delivered: 400, opened: 160, clicked: 20 },
    { at: 2, delivered: 400, opened: 165, clicked: 20 },
  ],
  days: [
    { date: '2026-04-13', delivered: 400, opened: 200, clicked: 20 },
    { date: '2026-04-14', delivered: 400, opened: 125, clicked: 20 },
  ],
  untilOrder: {
    curve: [
      { hours: 7, share: 0.06, low: 0.04, high: 0.08 },
      { hours: 80, share: 0.11, low: 0.09, high: 0.13 },
    ],
    reached: [
      { share: 0.05, hours: 7, low: 5, high: 9 },
      { share: 0.1, hours: 80, low: 60, high: null },
    ],
  },
}
const NUMBERS = { total: { ...NO_NUMBERS, nextDueAt: null }, steps: [], branches: [], earned: { steps: [], branches: [] }, exclusions: [], onOlderVersions: 0 } // prettier-ignore
const THROUGH = { numbers: NUMBERS, ways: [] }
const NOBODY = { entered: 0, ordered: 0, orders: 0, revenueMinor: 0, messages: [] }
const results = (delivered: number, opened: number): ResultsResponse => ({
  from: 1000,
  to: 3000,
  windowDays: 30,
  over: { ...NOBODY, entered: 900, messages: [{ ...nothingOf('first'), reached: 900, sent: delivered, delivered, opened, replied: 9 }] },
  open: NOBODY,
  before: null,
  through: { over: THROUGH, all: THROUGH },
  versions: [2, 1],
}) // prettier-ignore

const definition = aDefinition({
  name: 'Thanks',
  steps: [anEmail('first', { name: 'Thank you' }), anEmail('second', { name: 'Come again' })],
})
const workflow = { id: 'w1', state: 'live', draft: definition, draftRevision: 1, liveVersion: 2, live: definition, changedAt: 0, secondPerson: null } // prettier-ignore
const PREVIEW = { sample: null, to: '', subject: 'Thank you, Ines', previewText: '', html: '<html><head></head><body><a href="https://example.org/guide?utm=1">Guide</a></body></html>', text: '', bytes: 1, fields: {}, notes: [], problem: null } // prettier-ignore

async function open(answers: Answers = {}, search = '') {
  const asked = show(
    <Routes>
      <Route path="/workflows/:id/results/:step" element={<MessagePage />} />
    </Routes>,
    {
      '/api/workflows/w1': workflow,
      '/api/workflow-names': [],
      '/api/workflows/w1/results': results(800, 325),
      '/api/workflows/w1/results/message': TAKEN,
      'POST /api/messages/preview': PREVIEW,
      ...answers,
    },
    { address: `/workflows/w1/results/first${search}` },
  )
  await screen.findByText('Thank you, Ines')
  return asked
}

test('one message with its figures, its links, its hours, and how soon people ordered', async () => {
  await open()
  const own = within(screen.getByRole('region', { name: 'Thank you' }))
  expect(own.getByText('Opened').parentElement?.textContent).toContain('40.6 %')
  expect(own.getByText('Answered').parentElement?.textContent).toContain('1.1 %')
  // 4 of 800 delivered.
  expect(own.getByRole('region', { name: 'Links followed' }).textContent).toContain('example.org/guide0.50 %4 ·') // prettier-ignore
  const hours = own.getByRole('region', { name: /^By the hour/ })
  expect(hours.textContent).toMatch(/09–10 stands out: 50 % opened \(.*\), 30 % at other times\./)
  expect(within(hours).queryByRole('rowheader', { name: '03–04' })).toBeNull()
  expect(own.getByRole('region', { name: 'By weekday' }).textContent).toContain('None stands out')
  expect(own.getByRole('region', { name: 'How soon they ordered' }).textContent).toContain(
    'One in twenty had ordered after 7 hours (5 to 9 hours). One in ten had ordered after 3 days (at least 3 days).',
  )
})

test('beside it stands another time, version or message, and the address keeps it', async () => {
  const asked = await open()
  const choose = (label: string) => userEvent.selectOptions(screen.getByLabelText('beside'), label)
  await choose('itself, in the time before')
  await screen.findByRole('region', { name: 'In the time before' })
  expect(asked.map(({ path }) => path)).toContain('/api/workflows/w1/results?windowDays=30&from=-1000&to=1000') // prettier-ignore
  await choose('Come again')
  await screen.findByRole('region', { name: 'Come again' })
  await waitFor(() => expect(asked.map(({ path }) => path).join(' ')).toContain('step=second'))
})

test('a message that a version does not have is said to be missing', async () => {
  const older = { version: 1, definition: { ...definition, steps: [anEmail('other')] } }
  await open({ '/api/workflows/w1/versions/1': older }, '?beside=version%201')
  expect(await screen.findByText('It was not in version 1.')).toBeDefined()
})

test('links are marked with how many followed them, those of one’s own by their place', () => {
  const html = markLinks(
    '<p><a href="https://example.org/guide?utm=1#x">Guide</a> <a href="https://p.example/17">Parcel</a> <a href="https://example.org/other">Other</a></p>',
    [
      { url: 'https://example.org/guide', people: 5 },
      { url: 'https://p.example/…', people: 12 },
    ],
    100,
  )
  const page = new DOMParser().parseFromString(html, 'text/html')
  expect([...page.querySelectorAll('a')].map(({ textContent }) => textContent)).toEqual([
    'Guide5 % · 5',
    'Parcel12 % · 12',
    'Other',
  ])
})
