import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { expect, test } from 'vitest'
import type { CohortResults, MessageResults, ResultsResponse } from '../../../contract/results.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition, anEmail, happened } from '../../../testing/builders.ts'
import { refusal, show, type Answers } from '../../testing/screen.tsx'
import { NO_NUMBERS } from '../../testing/listItem.ts'
import { ResultsPage } from './ResultsPage.tsx'
import { nothingOf } from './shownResults.ts'

const message = (step: string, over: Partial<MessageResults> = {}): MessageResults => ({
  ...nothingOf(step),
  ...over,
})
const cohort = (over: Partial<CohortResults> = {}): CohortResults => ({
  entered: 0,
  ordered: 0,
  orders: 0,
  revenueMinor: 0,
  messages: [],
  ...over,
})
const NOTHING = {
  total: { ...NO_NUMBERS, nextDueAt: null },
  steps: [],
  branches: [],
  earned: { steps: [], branches: [] },
  exclusions: [],
  onOlderVersions: 0,
}
const NOT_THROUGH = { numbers: NOTHING, ways: [] }
const OVER = cohort({
  entered: 100,
  ordered: 12,
  orders: 14,
  revenueMinor: 61_000,
  messages: [
    message('second', { reached: 60, sent: 50, delivered: 50, clicked: 5, ordered: 12, orders: 14, revenueMinor: 61_000, notSent: [{ code: 'noConsent', exclusion: null, count: 7 }, { code: 'left', exclusion: 'refund', count: 3 }] }),
    message('gone', { reached: 3, sent: 3, delivered: 3 }),
    message('first', { reached: 100, sent: 100, delivered: 95, opened: 38, clicked: 6 }),
  ],
}) // prettier-ignore
const OPEN = cohort({ entered: 20, messages: [message('first', { reached: 20, sent: 20, delivered: 20, clicked: 4 })] }) // prettier-ignore

const definition = aDefinition({
  name: 'Thanks',
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [anEmail('first', { name: 'Thank you' }), anEmail('second', { name: 'Come again' })],
})
const workflow = (live: Definition) => ({ id: 'w1', state: 'live', draft: live, draftRevision: 1, liveVersion: 1, live, changedAt: 0, secondPerson: null }) // prettier-ignore
const inWays = workflow({
  ...definition,
  steps: [
    ...definition.steps,
    { key: 'e', kind: 'experiment', name: 'When', lottery: 'l', arms: [{ key: 'a', name: 'Soon', weight: 1, steps: [] }, { key: 'b', name: 'Later', weight: 1, steps: [] }] },
  ],
}) // prettier-ignore

async function open(results: Partial<ResultsResponse>, answers: Answers = {}) {
  const asked = show(
    <Routes>
      <Route path="/workflows/:id/results" element={<ResultsPage />} />
    </Routes>,
    {
      '/api/workflows/w1': workflow(definition),
      '/api/workflows/w1/experiments': { reports: [], earlier: [], decisions: [] },
      '/api/workflow-names': [],
      '/api/workflows/w1/results': { from: 0, to: 1, windowDays: 30, over: cohort(), open: cohort(), before: null, versions: [1], through: { over: NOT_THROUGH, all: NOT_THROUGH }, ...results },
      ...answers,
    },
    { address: '/workflows/w1/results' },
  ) // prettier-ignore
  await screen.findByRole('link', { name: 'Thanks' })
  return asked
}
const cells = (name: string) =>
  within(screen.getByRole('row', { name: new RegExp(name) })).getAllByRole('cell')
const textOf = (name: string) => cells(name).map(({ textContent }) => textContent)

test('messages stand in their order, with rates of those who came so far; those of earlier versions last', async () => {
  await open({ over: OVER })
  await screen.findByRole('row', { name: /^Thank you/ })
  const rows = screen.getAllByRole('row').slice(1)
  expect(rows.map((row) => within(row).getAllByRole('cell')[0]?.textContent)).toEqual([
    'Thank you',
    'Come again',
    'gonein an earlier version',
  ])
  expect(screen.getByRole('link', { name: 'Come again' }).getAttribute('href')).toBe('/workflows/w1/results/second') // prettier-ignore
  const [, reached, sent, delivered, opened, clicked] = textOf('Thank you')
  expect(reached).toBe('100')
  expect(sent).toMatch(/^100 %100 · /)
  // 95 of 100 delivered; 38 and 6 of those 95.
  expect(delivered).toMatch(/^95 %95 · 88\.8–97\.8 %$/)
  expect(opened).toMatch(/^40 %38 · /)
  expect(clicked).toMatch(/^6\.3 %6 · /)
  expect(screen.getByText(/100 ways/)).toBeDefined()
  expect(screen.getByText(/14 orders/).textContent).toContain('12 %, most likely 7–19.8 %')
})

test('a message on a path says on which: two may have one name', async () => {
  const arm = (key: string, name: string) => ({
    key,
    name,
    weight: 50,
    steps: [anEmail(`mail-${key}`, { name: 'Thank you' })],
  })
  const parted = aDefinition({
    name: 'Thanks',
    steps: [{ key: 'e', kind: 'experiment', name: 'When', lottery: 'l', arms: [arm('a', 'Soon'), arm('b', 'Later')] }],
  })
  await open({ over: OVER }, { '/api/workflows/w1': workflow(parted) })
  expect(await screen.findByRole('row', { name: /^Thank you Soon/ })).toBeDefined()
  expect(screen.getByRole('row', { name: /^Thank you Later/ })).toBeDefined()
}) // prettier-ignore

const BEHIND = {
  people: [
    { runId: 7, customerId: 'c1', name: 'Ines Duarte', email: 'ines@example.org', enteredAt: 0, sentAt: 5, revenueMinor: 4200 },
    { runId: 8, customerId: 'c2', name: null, email: null, enteredAt: 0, sentAt: null, revenueMinor: 0 },
  ],
  hasMore: true,
} // prettier-ignore

test('every figure leads to its people, and those to what happened to them', async () => {
  const asked = await open({ over: OVER }, { '/api/workflows/w1/results/people': BEHIND })
  await screen.findByRole('row', { name: /^Come again/ })
  await userEvent.click(within(screen.getByRole('row', { name: /Come again/ })).getByRole('button', { name: /^10 % ?5 ·/ })) // prettier-ignore
  const people = screen.getByRole('complementary', { name: 'The people behind the figure' })
  expect(await within(people).findByRole('heading', { name: 'Clicked: Come again' })).toBe(document.activeElement) // prettier-ignore
  const who = await within(people).findAllByRole('link')
  expect(who.map(({ textContent }) => textContent)).toEqual(['Ines Duarte', 'c2'])
  expect(who[0]?.getAttribute('href')).toBe('/runs/7')
  expect(people.textContent).toContain('These are the 2 who entered last')
  expect(asked.map(({ path }) => path)).toContain('/api/workflows/w1/results/people?days=90&windowDays=30&measure=clicked&step=second&isWithOpen=false') // prettier-ignore
  await userEvent.keyboard('{Escape}')
  expect(screen.queryByRole('complementary')).toBeNull()
})

test('why others did not get it stands in words, and leads to them', async () => {
  const asked = await open({ over: OVER }, { '/api/workflows/w1/results/people': BEHIND })
  await screen.findByRole('row', { name: /^Come again/ })
  const row = within(screen.getByRole('row', { name: /Come again/ }))
  expect(row.getByRole('button', { name: '7 no consent' })).toBeDefined()
  await userEvent.click(row.getByRole('button', { name: /^3 left there: this order was refunded/ }))
  await screen.findByText('Ines Duarte')
  expect(asked.at(-1)?.path).toContain('measure=notSent&step=second&code=left&exclusion=refund')
})

test('a time of one’s own has both its days in it; a path, a version and the time before are asked for', async () => {
  const before = { ...cohort({ entered: 50, messages: [message('first', { reached: 50, sent: 50, delivered: 50, clicked: 10 })] }), through: NOT_THROUGH } // prettier-ignore
  const asked = await open(
    { over: OVER, before, versions: [2, 1] },
    { '/api/workflows/w1': inWays },
  )
  await screen.findByRole('row', { name: /^Thank you/ })
  await userEvent.selectOptions(screen.getByLabelText(/who entered/), 'own')
  fireEvent.change(screen.getByLabelText('From'), { target: { value: '2026-03-01' } })
  fireEvent.change(screen.getByLabelText('To, that day included'), { target: { value: '2026-03-31' } }) // prettier-ignore
  await userEvent.selectOptions(screen.getByLabelText('Path or arm'), 'Later')
  await userEvent.selectOptions(screen.getByLabelText('Version'), 'version 1')
  await userEvent.click(screen.getByLabelText('with the time before'))
  // Dublin is an hour ahead of UTC from 29 March on.
  const [from, to] = [Date.UTC(2026, 2, 1), Date.UTC(2026, 2, 31, 23)]
  const path = `/api/workflows/w1/results?from=${from}&to=${to}&windowDays=30&version=1&wayStep=e&wayBranch=b&before=true` // prettier-ignore
  await waitFor(() => expect(asked.map((one) => one.path)).toContain(path))
  expect(textOf('Thank you')[5]).toContain('before 20 %')
  expect(screen.getByRole('link', { name: 'CSV' }).getAttribute('href')).toBe(path.replace('/results?', '/results.csv?')) // prettier-ignore
})

test('the timetable shows what is chosen at every stop and path, with the time before beside it', async () => {
  const way = { step: 'e', people: 50, delivered: 40, opened: 10, clicked: 4, bought: 5, unsubscribed: 0, complained: 0 } // prettier-ignore
  const numbers = { ...NOTHING, total: { ...NOTHING.total, entered: 100 }, branches: [{ step: 'e', branch: 'a', taken: 50 }, { step: 'e', branch: 'b', taken: 50 }] } // prettier-ignore
  const ways = [
    { ...way, branch: 'a' },
    { ...way, branch: 'b', bought: 20 },
  ]
  const before = { ...cohort({ entered: 50, messages: [message('first', { reached: 50, sent: 50, delivered: 50, opened: 10 })] }), through: { numbers, ways: [{ ...way, branch: 'a', bought: 10 }] } } // prettier-ignore
  await open(
    { over: OVER, before, through: { over: { numbers, ways }, all: NOT_THROUGH } },
    { '/api/workflows/w1': inWays },
  )
  await screen.findByRole('row', { name: /^Thank you/ })
  const shown = () => screen.getByLabelText('Where people went').textContent ?? ''
  await userEvent.selectOptions(screen.getByLabelText('on the timetable'), 'ordered')
  // Of those who took a path: whoever ordered at all; of a message: whoever ordered for it, of those it reached.
  await waitFor(() => expect(shown()).toContain('10 % was 20 %'))
  expect(shown()).toContain('40 %')
  await userEvent.selectOptions(screen.getByLabelText('on the timetable'), 'opened')
  // 38 of 95 for the first message, 10 of 50 before; 10 of 40 on either path.
  await waitFor(() => expect(shown()).toContain('40 % was 20 %'))
  expect(shown()).toContain('25 %')
})

test('too few for a rate are counted; of nobody nothing is said', async () => {
  await open({ over: cohort({ entered: 8, messages: [message('first', { reached: 8, sent: 8, delivered: 8, clicked: 3 })] }) }) // prettier-ignore
  await screen.findByRole('row', { name: /^Thank you/ })
  expect(textOf('Thank you')[5]).toBe('3 of 8')
  expect(textOf('Come again')[5]).toBe('–')
})

test('those for whom more may come are added when they are asked for', async () => {
  await open({ over: OVER, open: OPEN })
  await screen.findByRole('row', { name: /^Thank you/ })
  expect(textOf('Thank you')[1]).toBe('100')
  await userEvent.click(screen.getByLabelText(/with the 20 that are still within/))
  expect(textOf('Thank you')[1]).toBe('120')
  expect(textOf('Thank you')[5]).toMatch(/^8\.7 %10 · /)
})

test('where nobody has had all of the time, those who may still do something are shown, and it says so', async () => {
  await open({ open: OPEN })
  expect(await screen.findByText('Nobody has had all of the time yet.')).toBeDefined()
  expect(textOf('Thank you')[1]).toBe('20')
})

test('another time and another number of days are asked for', async () => {
  const asked = await open({ over: OVER })
  await screen.findByRole('row', { name: /^Thank you/ })
  await userEvent.selectOptions(screen.getByLabelText(/who entered in the last/), '365')
  await userEvent.selectOptions(screen.getByLabelText(/what they did in their first/), '7')
  await waitFor(() =>
    expect(asked.at(-1)?.path).toBe('/api/workflows/w1/results?days=365&windowDays=7'),
  )
})

test('where nobody entered it says so', async () => {
  await open({})
  expect(await screen.findByText('Nobody entered in this time.')).toBeDefined()
})

test('what went wrong is said', async () => {
  await open({}, { '/api/workflows/w1/results': () => refusal(500, 'It broke.') })
  expect(await screen.findByText('It broke.')).toBeDefined()
})
