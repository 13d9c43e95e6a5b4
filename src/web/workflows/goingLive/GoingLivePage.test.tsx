import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { describe, expect, test } from 'vitest'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition, anEmail, happened, on, wait } from '../../../testing/builders.ts'
import { done, refusal, show, type Answers, type Asked } from '../../testing/screen.tsx'
import { GoingLivePage } from './GoingLivePage.tsx'

const NOW = Date.UTC(2026, 3, 14, 10, 20)
const THANKS = aDefinition({
  name: 'Thanks',
  trigger: on('order.placed'),
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    anEmail('first', { name: 'Thank you', purpose: 'transactional' }),
    wait('w', 'P3D'),
    anEmail('second', { name: 'How is it', purpose: 'marketing' }),
  ],
})
const PAST = { people: 1807, entries: 2105, perWeek: 163.7, oneIn: 1, beside: [{ workflowId: 'w2', name: 'Order confirmation', people: 1591, messages: 2760 }] } // prettier-ignore
const NOTICE = { key: 'order-confirmation', label: 'Order confirmation', takenBy: null, candidates: [], trouble: null } // prettier-ignore
const QUALIFYING = {
  people: 120,
  hasMore: false,
  shown: [
    { customerId: 'c1', name: 'Edith Moran', email: null, about: '30842', occasionAt: NOW - 86_400_000, first: { step: 'first', at: NOW }, skipped: null },
    { customerId: 'c2', name: null, email: 'bo@example.org', about: null, occasionAt: NOW - 86_400_000, first: null, skipped: 'noConsent' },
  ],
  turnedAway: [{ code: 'exclusion', count: 3 }],
} // prettier-ignore

interface Given {
  draft?: Definition
  state?: 'draft' | 'live' | 'paused'
  live?: Definition | null
  answers?: Answers
  role?: 'marketer' | 'staff'
}
async function open({ draft = THANKS, state = 'draft', live = null, answers = {}, role = 'marketer' }: Given = {}): Promise<Asked[]> {
  const asked = show(
    <Routes>
      <Route path="/workflows/:id/going-live" element={<GoingLivePage />} />
      <Route path="/workflows/:id" element={<p>The workflow</p>} />
    </Routes>,
    {
      '/api/workflows/w1': { id: 'w1', state, draft, draftRevision: 4, liveVersion: live && 1, live, changedAt: 0, secondPerson: null },
      '/api/workflow-names': [],
      '/api/clock': { now: NOW, movedByHand: true, target: null },
      '/api/shop-rules': { messageGap: null, quietHours: { from: '21:00', to: '08:00' }, hookSecret: null, holdoutSince: null, holdoutPercent: null },
      '/api/counter/products': [{ id: 'p1', title: 'Bee brush', category: 'Tools', priceMinor: 900, currency: 'EUR' }],
      '/api/addresses': { senders: [{ address: 'maren@combwright.example', name: 'Maren', verifiedAt: 1 }], groups: [] },
      '/api/live-workflows': [],
      '/api/notices': [NOTICE],
      '/api/workflows/w1/before-live': { past: PAST },
      '/api/workflows/w1/passed-over': { people: 0, firstAt: null },
      '/api/workflows/w1/qualifying': QUALIFYING,
      '/api/workflows/w1/intakes': [],
      'POST /api/workflows/w1/visit': { others: [], draftRevision: 4 },
      'POST /api/workflows/w1/go-live': { version: 1 },
      'POST /api/workflows/w1/let-in': { people: 120 },
      'PUT /api/notices/order-confirmation': done,
      ...answers,
    },
    { address: '/workflows/w1/going-live', role },
  )
  await screen.findByRole('heading', { level: 1 })
  return asked
} // prettier-ignore

const part = (name: string) => screen.findByRole('region', { name })
const goLive = async (name = 'Go live') => {
  const button = await screen.findByRole<HTMLButtonElement>('button', { name })
  await waitFor(() => expect(button.disabled).toBe(false))
  fireEvent.click(button)
}
const posts = (asked: readonly Asked[]) =>
  asked
    .filter(({ method, path }) => method !== 'GET' && !path.includes('/visit'))
    .map(({ path, body }) => [path, body])

describe('before it goes live there is said', () => {
  test('who comes in, what it sends and when, what else the same people get', async () => {
    await open()
    await screen.findByText(/About 164 a week, by the last 90 days \(2,105 times, 1,807 people\)/)
    const sends = await part('What it sends: 2 messages')
    await within(sends).findByText(/When whoever comes in now gets it/)
    const rows = within(sends).getAllByRole('row').map((row) => row.textContent)
    expect(rows[1]).toMatch(/Thank you.*email, transactional.*14 April/)
    expect(rows[2]).toMatch(/How is it.*email, marketing.*17 April/)
    expect((await part('What the same people get beside it')).textContent).toMatch(/1,591 got 2,760 messages from Order confirmation/)
    expect((await part('Its examples')).textContent).toMatch(/Nothing has been tried/)
  }) // prettier-ignore

  test('what a draft changes of what is live', async () => {
    await open({ state: 'live', live: { ...THANKS, name: 'Thank them' } })
    expect((await part('What changes')).textContent).toContain('Named “Thanks”')
    expect(screen.getByRole('button', { name: 'Publish changes' })).toBeDefined()
  })

  test('and for staff nothing', async () => {
    await open({ role: 'staff' })
    expect(screen.getByText('Marketers switch workflows on.')).toBeDefined()
  })
})

describe('going live', () => {
  test('publishes what was saved, and leads back to it', async () => {
    const asked = await open()
    await goLive()
    expect(await screen.findByText('The workflow')).toBeDefined()
    expect(await screen.findByText('Version 1 is live.')).toBeDefined()
    expect(posts(asked)).toEqual([
      ['/api/workflows/w1/go-live', { revision: 4, includeToday: false }],
    ])
  })

  test('takes a notice over from the shop, and lets in who qualifies already, so many an hour', async () => {
    const asked = await open()
    await userEvent.click(await screen.findByRole('checkbox', { name: /Order confirmation/ }))
    const whom = await screen.findByRole<HTMLSelectElement>('combobox', { name: 'Let in' })
    await waitFor(() => expect(whom.disabled).toBe(false))
    await userEvent.selectOptions(whom, '7')
    const named = await screen.findByRole('table', { name: 'Who would be let in' })
    expect(within(named).getAllByRole('row').map((row) => row.textContent).slice(1)).toEqual([
      expect.stringMatching(/Edith Moran · order 30842.*13 April.*Thank you, 14 April/),
      expect.stringMatching(/bo@example.org.*nothing: no consent/),
    ])
    expect(screen.getByText(/120 people, the last of them after 2 hours/)).toBeDefined()
    expect(screen.getByText(/3 because an exclusion holds/)).toBeDefined()
    fireEvent.change(screen.getByRole('spinbutton'), { target: { value: '30' } })
    expect(screen.getByText(/after 4 hours/)).toBeDefined()
    await goLive()
    expect(await screen.findByText(/Version 1 is live. The shop is told to be silent about it. 120 people are being let in/)).toBeDefined()
    expect(posts(asked)).toEqual([
      ['/api/workflows/w1/go-live', { revision: 4, includeToday: false }],
      ['/api/notices/order-confirmation', { takenBy: 'w1' }],
      ['/api/workflows/w1/let-in', { days: 7, perHour: 30 }],
    ])
  }) // prettier-ignore

  test('those whose moment was earlier today are let in if somebody says so', async () => {
    const trigger = { kind: 'date', field: 'subscription.endsAt', days: 7, direction: 'before', at: '09:00', zone: 'shop' } as const // prettier-ignore
    const answers = { '/api/workflows/w1/passed-over': { people: 2, firstAt: NOW - 3_600_000 } }
    const asked = await open({
      draft: aDefinition({
        name: 'Renewal',
        trigger,
        steps: [anEmail('m', { subject: 'Soon', body: 'Soon.' })],
      }),
      answers,
    })
    await userEvent.selectOptions(await screen.findByLabelText(/earlier today/), 'in')
    await goLive()
    await waitFor(() => expect(posts(asked)).toEqual([['/api/workflows/w1/go-live', { revision: 4, includeToday: true }]])) // prettier-ignore
  })

  test('what the check finds stands in the way, and what the server finds is listed', async () => {
    await open({ draft: { ...THANKS, name: '' } })
    expect(await screen.findByText('1 finding must be mended first.')).toBeDefined()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Go live' }).disabled).toBe(true)
  })

  test('what the server finds is listed', async () => {
    const refused = () => refusal(422, 'This workflow cannot go live yet.', { steps: 'A message has no subject.' }) // prettier-ignore
    await open({ answers: { 'POST /api/workflows/w1/go-live': refused } })
    await goLive()
    expect(await screen.findByText('This workflow cannot go live yet.')).toBeDefined()
    expect(screen.getByText(/A message has no subject/)).toBeDefined()
    expect(screen.queryByText('The workflow')).toBeNull()
  })

  test('where it takes two, one asks, and only another puts it live', async () => {
    let asked: { name: string; isOwn: boolean } | null = null
    const answers = {
      '/api/workflows/w1': () => ({ id: 'w1', state: 'draft', draft: THANKS, draftRevision: 4, liveVersion: null, live: null, changedAt: 0, secondPerson: { asked } }),
      'POST /api/workflows/w1/ask-live': () => {
        asked = { name: 'Maren', isOwn: true }
        return undefined
      },
    } // prettier-ignore
    const requests = await open({ answers })
    const ask = await screen.findByRole<HTMLButtonElement>('button', { name: 'Ask a second person' }) // prettier-ignore
    await waitFor(() => expect(ask.disabled).toBe(false))
    const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Go live' })
    expect(button.disabled).toBe(true)
    fireEvent.click(ask)
    expect(await screen.findByText(/You have asked; somebody else puts it live/)).toBeDefined()
    expect(button.disabled).toBe(true)
    expect(requests.find(({ path }) => path.endsWith('ask-live'))?.body).toEqual({ revision: 4 })
  })

  test('what another has asked for is put live', async () => {
    await open({ answers: { '/api/workflows/w1': { id: 'w1', state: 'draft', draft: THANKS, draftRevision: 4, liveVersion: null, live: null, changedAt: 0, secondPerson: { asked: { name: 'Tiago', isOwn: false } } } } }) // prettier-ignore
    expect(await screen.findByText(/Tiago has asked for it/)).toBeDefined()
    await goLive()
    expect(await screen.findByText('The workflow')).toBeDefined()
  })

  test('a paused one is published and still paused', async () => {
    await open({ state: 'paused', live: { ...THANKS, name: 'Thank them' } })
    await goLive('Publish changes')
    expect(await screen.findByText('Version 1 is published; the workflow is still paused.')).toBeDefined() // prettier-ignore
  })
})

test('into one that is live as it is, people are let in, and that is stopped', async () => {
  const intake = { id: 1, person: 'Maren', startedAt: NOW, perHour: 20, people: 38, entered: 12, turnedAway: 1, endedAt: null, isStopped: false } // prettier-ignore
  const asked = await open({
    state: 'live',
    live: THANKS,
    answers: { '/api/workflows/w1/intakes': [intake], 'POST /api/workflows/w1/intakes/stop': { stopped: 25 } }, // prettier-ignore
  })
  await screen.findByRole('heading', { name: 'Letting people into Thanks' })
  expect(await screen.findByText('Nothing has changed since it went live.')).toBeDefined()
  fireEvent.click(await screen.findByRole('button', { name: 'Stop letting people in' }))
  const dialog = screen.getByRole('alertdialog')
  expect(dialog.textContent).toContain('25 people in line stay out')
  fireEvent.click(dialog.querySelector('[data-confirm]') as Element)
  expect(await screen.findByText('25 people stay out.')).toBeDefined()
  const whom = await screen.findByRole<HTMLSelectElement>('combobox', { name: 'Let in' })
  await waitFor(() => expect(whom.disabled).toBe(false))
  await userEvent.selectOptions(whom, '30')
  await goLive('Let them in')
  await waitFor(() => expect(posts(asked).at(-1)).toEqual(['/api/workflows/w1/let-in', { days: 30, perHour: 100 }])) // prettier-ignore
})

test('what somebody else saves meanwhile is taken over, and they are named', async () => {
  let revision = 4
  const visit = () => ({ others: [{ name: 'Aoife', isSelf: false }], draftRevision: revision })
  await open({ answers: { 'POST /api/workflows/w1/visit': () => (revision === 4 ? { ...visit(), draftRevision: (revision = 5) } : visit()), '/api/workflows/w1': () => ({ id: 'w1', state: 'draft', draft: revision === 4 ? THANKS : { ...THANKS, description: 'Anew' }, draftRevision: revision, liveVersion: null, live: null, changedAt: 0, secondPerson: null }) } }) // prettier-ignore
  expect(await screen.findByText(/also open: Aoife/)).toBeDefined()
  expect(await screen.findByText(/Somebody else has changed this draft/)).toBeDefined()
})
