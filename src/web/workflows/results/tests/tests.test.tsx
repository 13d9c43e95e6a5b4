import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test } from 'vitest'
import type { ArmReport, ExperimentReport } from '../../../../contract/experiments.ts'
import type { ExperimentStep } from '../../../../core/workflow/steps.ts'
import { aDefinition, anEmail } from '../../../../testing/builders.ts'
import { show } from '../../../testing/screen.tsx'
import { Tests } from './Tests.tsx'

const NOW = Date.UTC(2026, 3, 14, 9)
const arm = (key: string, name: string, people: number, ordered: number, over: Partial<ArmReport> = {}): ArmReport => ({
  key, name, weight: 50, holdout: false, drawn: people, people, ordered, orders: ordered,
  revenueMinor: ordered * 4000, revenueSquares: ordered * 4000 ** 2, uncutMinor: ordered * 4100, clicked: 0, reviewed: 0, unsubscribed: 0, ...over,
}) // prettier-ignore
const report = (over: Partial<ExperimentReport> = {}): ExperimentReport => ({
  step: 'test',
  name: 'How soon',
  plan: { measure: 'ordered', windowDays: 14, least: 0.02 },
  isUnplanned: false,
  versions: [1],
  from: Date.UTC(2026, 0, 10),
  until: null,
  now: NOW,
  perDay: 40,
  cutMinor: 20_000,
  attributedMinor: 0,
  arms: [arm('soon', 'Soon', 3600, 216), arm('later', 'Later', 3600, 144)],
  touching: [],
  ...over,
})
const experiment: ExperimentStep = {
  key: 'test',
  kind: 'experiment',
  name: 'How soon',
  lottery: 'l',
  arms: [
    { key: 'soon', name: 'Soon', weight: 50, steps: [anEmail('one')] },
    { key: 'later', name: 'Later', weight: 50, steps: [anEmail('two'), anEmail('three')] },
  ],
}
const definition = aDefinition({ steps: [experiment] })

function open(reports: ExperimentReport[], answers: object = {}) {
  return show(<Tests workflowId="w1" definition={definition} revision={3} />, {
    '/api/workflows/w1/experiments': { reports, earlier: [], decisions: [] },
    '/api/workflow-names': [{ id: 'w2', name: 'Open basket' }],
    ...answers,
  })
}
const card = async () => within(await screen.findByRole('region', { name: 'Test: How soon' }))

test('a test that is told says so in words first, with its interval', async () => {
  open([report()])
  const told = await card()
  expect(told.getByText(/^“Soon” is better: 2 points more people who order than with “Later” \(0\.4\d to 3\.6\)\.$/)).toBeDefined() // prettier-ignore
  expect(told.getByText(/which decides/)).toBeDefined()
  expect(told.getByText(/different numbers of messages: “Soon” 1 message, “Later” 2 messages/)).toBeDefined() // prettier-ignore
})

test('one that is not says when it can be', async () => {
  open([report({ arms: [arm('soon', 'Soon', 300, 15), arm('later', 'Later', 300, 12)] })])
  const told = await card()
  expect(told.getByText(/^Cannot be decided before \d+ \w+/)).toBeDefined()
  expect(told.getByText(/^To see a difference of 2 points it takes [\d,]+ people in all\. 600 have had/)).toBeDefined() // prettier-ignore
})

test('arms that have not got their people are not trusted', async () => {
  open([report({ arms: [arm('soon', 'Soon', 3600, 216), arm('later', 'Later', 3000, 144)] })])
  expect((await card()).getByText(/have not got the people they should have/)).toBeDefined()
})

test('what is caused stands beside what is attributed, once enough have bought without', async () => {
  const arms = [arm('soon', 'Letter', 4000, 500, { weight: 80 }), arm('none', 'None', 1000, 70, { weight: 20, holdout: true })] // prettier-ignore
  open([report({ arms, attributedMinor: 900_000 })])
  const line = (await card()).getByText(/^Attributed to its messages/)
  // 4000 people × (€5.00 − €2.80)
  expect(line.textContent).toMatch(/€9,000\.00\. Caused by them, by the holdout: €8,800\.00 \(€[\d,.]+ to €[\d,.]+\)/) // prettier-ignore
})

test('too few buyers without it, and nothing is said of what it caused', async () => {
  const arms = [arm('soon', 'Letter', 400, 60, { weight: 80 }), arm('none', 'None', 100, 7, { weight: 20, holdout: true })] // prettier-ignore
  open([report({ arms })])
  expect((await card()).getByText(/too early to tell, 7 of the 50 buyers/)).toBeDefined()
})

test('other tests of the same people are named; by the same draw it is said what that does', async () => {
  open([report({ touching: [{ workflowId: 'w2', step: 'x', people: 2000, isSameDraw: true }] })])
  const told = await card()
  expect(await told.findByRole('link', { name: 'Open basket' })).toBeDefined()
  expect(told.getByText(/by the same draw/)).toBeDefined()
})

test('a decision makes a draft and is kept with its reason', async () => {
  const asked = open([report()], {
    'POST /api/workflows/w1/experiments/test/decision': { draftRevision: 4 },
  })
  const told = await card()
  await userEvent.click(told.getByRole('button', { name: 'Decide' }))
  await userEvent.type(told.getByLabelText('Why, for colleagues'), 'It is plain.')
  await userEvent.click(told.getByRole('button', { name: 'Make the draft' }))
  const sent = asked.find(({ method }) => method === 'POST')
  expect(sent?.body).toEqual({ arm: 'soon', note: 'It is plain.', revision: 3 })
})

test('what was decided stays readable once the arms are gone', async () => {
  const decision = { id: 1, at: NOW, by: 'Maren', arm: 'later', note: 'Fewer mails.', report: report({ step: 'gone', name: 'Old test' }) } // prettier-ignore
  open([], { '/api/workflows/w1/experiments': { reports: [], earlier: [], decisions: [decision] } })
  const told = within(await screen.findByRole('region', { name: 'Test: Old test' }))
  expect(told.getByText('Maren decided on 14 April: everybody takes “Later”.')).toBeDefined()
  expect(told.getByText('Fewer mails.')).toBeDefined()
  expect(told.getByText(/^The figures of that day said: “Soon” is better/)).toBeDefined()
  expect(told.queryByRole('button', { name: /Decide/ })).toBeNull()
})

test('a decision belongs to the arms it was made of; with others the test can be decided anew', async () => {
  const old = { id: 1, at: NOW, by: 'Maren', arm: 'later', note: '', report: report() }
  open([report({ versions: [2] })], {
    '/api/workflows/w1/experiments': { reports: [report({ versions: [2] })], earlier: [report()], decisions: [old] },
  })
  const [now, before] = await screen.findAllByRole('region', { name: 'Test: How soon', hidden: true })
  if (!now || !before) throw new Error('two were meant')
  expect(within(now).queryByText(/Maren decided/)).toBeNull()
  expect(within(now).getByRole('button', { name: 'Decide' })).toBeDefined()
  expect(within(before).getByText(/Maren decided/)).toBeDefined()
}) // prettier-ignore
