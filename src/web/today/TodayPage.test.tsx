import { screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import { AS_OF_HEADER } from '../../contract/figures.ts'
import type { WorkflowListItem } from '../../contract/workflows.ts'
import { listItem } from '../testing/listItem.ts'
import { refusal, show, type Answers } from '../testing/screen.tsx'
import { TodayPage } from './TodayPage.tsx'

const NOBODY = { perWeek: [], most: [], meeting: [] }
const NO_PAST = {
  cohorts: [],
  coupons: { issued: 0, redeemed: 0, withinDays: [] },
  reviews: { asked: 0, left: 0 },
  renewals: { reminded: 0, kept: 0, over: 0 },
}
const NO_MAIL = { sent: 0, bounced: 0, complained: 0, delivered: 0 }

const STATUS = { alerts: [] as object[], work: { workers: 1, jobs: 0, queueAgeS: 0, dueLagS: 0 }, messages: { waiting: 0, held: 0, failed: 0, unsure: 0, lastSentAt: null }, installation: null } // prettier-ignore
const open = (answers: Answers = {}, workflows: WorkflowListItem[] = []) =>
  show(<TodayPage />, {
    '/api/attention': [],
    '/api/first-steps': {
      hasPostalAddress: true,
      hasLogo: true,
      hasKeyOrConnection: true,
      hasEvents: true,
      hasWorkflow: true,
      isLive: true,
      hasSent: true,
    },
    '/api/status': STATUS,
    '/api/workflows': workflows,
    '/api/workflow-names': [
      { id: 'w1', name: 'After dispatch' },
      { id: 'w2', name: 'Review request' },
    ],
    '/api/overview/sending': { days: [], ahead: [] },
    '/api/overview/health': NO_MAIL,
    '/api/overview/pressure': NOBODY,
    '/api/overview/cohorts': NO_PAST,
    '/api/overview/holdout': { reports: [] },
    ...answers,
  })
const part = (name: string) => screen.findByRole('region', { name })

test('a shop in which nothing has happened says so everywhere, and draws nothing flat', async () => {
  open()
  expect(await screen.findByText('Nothing is out of order.')).toBeDefined()
  for (const words of [
    /^Nothing has left in the last four weeks/,
    /^No order has followed a message/,
    /^No mail has left/,
    /^Nobody got a message/,
    /^Nobody has ordered yet/,
    /^No code was issued/,
    /^Nobody is held out/,
  ]) {
    expect(await screen.findByText(words)).toBeDefined()
  }
})

test('what is out of order comes first, each with the way there', async () => {
  const failed = { kind: 'failed', id: 1, runId: 1, workflow: { id: 'w1', name: 'x' }, step: 's', customer: { id: 'c', name: 'c', email: null }, to: null, error: null, at: 0 } // prettier-ignore
  const broken = listItem('w1', { name: 'After dispatch', findings: { errors: 2, warnings: 0 } }) // prettier-ignore
  const held = listItem('w2', { name: 'Review request', state: 'paused', numbers: { inProgress: 173 } }) // prettier-ignore
  open({ '/api/attention': [failed] }, [broken, held])
  const region = within(await part('Out of order'))
  expect(region.getAllByRole('link').map((link) => [link.textContent, link.getAttribute('href')])).toEqual([
    ['1 message could not be sent, or may not have arrived', '/ledger?show=attention'],
    ['After dispatch: 2 things to fix, though it is live', '/workflows/w1'],
    ['Review request is paused: 173 runs are held', '/workflows/w2'],
  ]) // prettier-ignore
})

test('what left and what will stand in numbers too, and the forecast says how good it was', async () => {
  const day = (date: string, came: number, forecast: object | null) => ({ date, marketing: came, transactional: 2, forecast }) // prettier-ignore
  open({
    '/api/overview/sending': {
      days: [
        day('2026-04-11', 5, null),
        day('2026-04-12', 8, { expected: 9.4, low: 4.2, high: 14.9 }),
        day('2026-04-13', 40, { expected: 9.4, low: 4.2, high: 14.9 }),
      ],
      ahead: [{ date: '2026-04-14', expected: 12.3, low: 6.6, high: 18.1 }],
    },
  })
  const region = within(await part('Messages a day'))
  expect(await region.findByText(/About 12 will leave.*held 1 of the 2 days since/)).toBeDefined()
  const rows = region.getAllByRole('row', { hidden: true }).map((row) => row.textContent)
  expect(rows).toContain('12 April 2026829 (4–15)')
  expect(rows).toContain('14 April 2026to come12 (6–19)')
})

test('how mail is taken is held against the published limits', async () => {
  open({ '/api/overview/health': { sent: 2000, bounced: 10, complained: 4, delivered: 1990 } })
  const region = await part('How mail is taken, last four weeks')
  await within(region).findByText('Complained')
  // 4 of 1990: 0.20 %, over 0.1 % and under 0.3 %. 10 of 2000: 0.50 %.
  expect(region.textContent).toMatch(/0\.20 % too many.*0\.50 % fine/)
})

test('who gets most, and which workflows meet in one person', async () => {
  open({
    '/api/overview/pressure': {
      perWeek: [{ messages: 1, people: 30 }, { messages: 6, people: 2 }],
      most: [{ customerId: 'c1', name: 'Ines Duarte', email: 'ines@example.org', messages: 12, marketing: 5 }],
      meeting: [{ first: 'w1', second: 'w2', people: 111 }],
    },
  }) // prettier-ignore
  const region = within(await part('How much people get'))
  expect(await region.findByText('In the last week, 32 people got something')).toBeDefined()
  expect(region.getByText('6 messages or more')).toBeDefined()
  expect((await region.findByRole('link', { name: 'Review request' })).closest('li')?.textContent).toBe('After dispatch and Review requestin 111') // prettier-ignore
  expect(region.getByRole('link', { name: 'Ines Duarte' }).getAttribute('href')).toBe('/ledger?search=ines%40example.org') // prettier-ignore
})

test('second orders by month: of few it is said how many, not how large a share', async () => {
  open({
    '/api/overview/cohorts': {
      cohorts: [
        { month: '2026-02', people: 200, again: [20, 50, 60] },
        { month: '2026-03', people: 10, again: [1, 2] },
      ],
      coupons: { issued: 40, redeemed: 10, withinDays: [{ days: 3, redeemed: 8 }] },
      reviews: { asked: 12, left: 3 },
      renewals: { reminded: 50, kept: 45, over: 49 },
    },
  })
  const region = await part('Second orders, by the month of the first')
  expect((await within(region).findByRole('row', { name: /February 2026/ })).textContent).toBe('February 202620010 %25 %30 %') // prettier-ignore
  expect(within(region).getByRole('row', { name: /March 2026/ }).textContent).toBe('March 2026101 of 102 of 10') // prettier-ignore
  const asked = await part('What came of asking')
  expect(asked.textContent).toContain('10, 25 % (14–40 %), of 40 codes were used: 8 within 3 days.')
  expect(asked.textContent).toContain('3 of 12 people asked left one within 30 days.')
  expect(asked.textContent).toContain('1 is still ahead')
})

test('one part that fails leaves the others', async () => {
  open({ '/api/overview/health': () => refusal(500, 'It broke.') })
  expect(await screen.findByText('It broke.')).toBeDefined()
  expect(await screen.findByText(/^Nobody has ordered yet/)).toBeDefined()
})

test('figures of a large shop say of when they are', async () => {
  const answer = () =>
    Response.json(
      { sent: 2000, bounced: 10, complained: 4, delivered: 1990 },
      { headers: { [AS_OF_HEADER]: '1776160800000' } },
    )
  open({ '/api/overview/health': answer })
  const heading = await screen.findByText('as of', { exact: false })
  expect(heading.textContent).toContain('14 Apr')
})
