import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { describe, expect, test } from 'vitest'
import type { PersonResponse, PersonRow } from '../../contract/people.ts'
import type { Role } from '../../contract/roles.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { done, show, type Answers, type Asked } from '../testing/screen.tsx'
import { PeoplePage } from './PeoplePage.tsx'
import { PersonPage } from './PersonPage.tsx'

const NOW = Date.UTC(2026, 3, 14, 9)
const INES: PersonRow = {
  id: 'c-1',
  name: 'Inês Quaresma',
  email: 'ines@example.org',
  phone: '+351 912 345 678',
  country: 'PT',
  mayEmail: true,
  mayText: null,
  createdAt: NOW - 90 * DAY_MS,
  lastOrderAt: NOW - DAY_MS,
  orders: 3,
  spentMinor: 12_990,
  tags: ['club'],
  lists: ['letters'],
}
const BARE: PersonRow = { ...INES, id: 'c-2', name: '', email: null, phone: null, country: null, mayEmail: null, createdAt: null, lastOrderAt: null, orders: 0, spentMinor: 0, tags: [], lists: [] } // prettier-ignore
const PERSON: PersonResponse = {
  ...INES,
  language: 'pt',
  birthday: '04-17',
  zone: { name: 'Europe/Lisbon', from: 'country' },
  quietUntil: null,
  properties: { hives: '12' },
  labelled: [{ kind: 'list', name: 'letters', at: NOW, by: 'Maren' }],
  consents: [
    { channel: 'email', address: 'ines@example.org', may: true, recorded: true, said: null, deadSince: null },
    { channel: 'sms', address: null, may: null, recorded: null, said: null, deadSince: null },
  ],
  marketing: { messages: 4, lastAt: NOW - 9 * DAY_MS },
  runs: [{ id: 7, workflow: { id: 'w1', name: 'After dispatch' }, enteredAt: NOW, step: 'Wait 16 days.', dueAt: NOW + DAY_MS, waits: true, about: '1001' }],
  lastOrders: [{ number: '1001', status: 'fulfilled', totalMinor: 4330, currency: 'EUR', at: NOW }],
  segments: [{ id: 's1', name: 'Bee club' }],
} // prettier-ignore
const COMING = {
  lines: [{ at: NOW + DAY_MS, kind: 'sends', words: 'Decided to send “Care guide”' }],
  isPaused: false,
  next: null,
  hindrances: [],
}
const LINE = { what: 'decision', key: 'd1', at: NOW, kind: 'entered', words: 'Entered', workflow: { id: 'w1', name: 'After dispatch' }, runId: 7, mailId: null } // prettier-ignore

const changing = (asked: readonly Asked[]) =>
  asked.filter(({ method }) => method !== 'GET').map(({ method, path, body }) => [method, path, body]) // prettier-ignore

/** Opens somebody's page. */
async function openPerson(person: Partial<PersonResponse> = {}, answers: Answers = {}, role: Role = 'owner') {
  const asked = show(
    <Routes>
      <Route path="/people/:id" element={<PersonPage />} />
      <Route path="/people" element={<p>People</p>} />
      <Route path="/workflows/:id/rehearsal" element={<p>A rehearsal</p>} />
    </Routes>,
    {
      '/api/people/c-1': { ...PERSON, ...person },
      '/api/people/c-1/timeline': { lines: [LINE], after: null },
      '/api/runs/7/coming': COMING,
      '/api/clock': { now: NOW, movedByHand: true, target: null },
      'POST /api/people/c-1/acts': done,
      'POST /api/runs/7/acts': done,
      ...answers,
    },
    { address: '/people/c-1', role },
  )
  await screen.findByRole('heading', { level: 1 })
  return asked
} // prettier-ignore

describe('a person', () => {
  test('is shown with what is known, what happened, and what is to come', async () => {
    await openPerson()
    expect(screen.getByText('Inês Quaresma')).toBeDefined()
    expect(screen.getByText(/Europe\/Lisbon \(of their country\)/)).toBeDefined()
    expect(await screen.findByText(/Decided to send “Care guide”/)).toBeDefined()
    expect(screen.getByText(/by Maren/)).toBeDefined()
    expect(screen.getByText('hives').nextSibling?.textContent).toBe('12')
    expect(within(screen.getByRole('region', { name: 'What happened' })).getByText('Entered')).toBeDefined()
  }) // prettier-ignore

  test('of whom nothing is known is called by their id, and no fact is made up', async () => {
    await openPerson({ name: '', email: null, phone: null, country: null, createdAt: null, lastOrderAt: null, language: null, birthday: null, runs: [] }) // prettier-ignore
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('c-1')
    expect(screen.getAllByText('not known')).toHaveLength(3)
    expect(screen.getByText('In none.')).toBeDefined()
  })

  test('is taken out, and a wait is ended, only once what comes of it was said', async () => {
    const asked = await openPerson()
    await userEvent.click(screen.getByRole('button', { name: 'Take them out' }))
    expect(changing(asked)).toEqual([])
    const dialog = within(screen.getByRole('alertdialog', { name: 'Take them out' }))
    await userEvent.click(dialog.getByRole('button', { name: 'Take them out' }))
    await waitFor(() => expect(changing(asked)).toEqual([['POST', '/api/runs/7/acts', { did: 'takeOut' }]])) // prettier-ignore
  })

  test('is kept quiet until a day that is chosen', async () => {
    const asked = await openPerson()
    const panel = within(screen.getByRole('region', { name: 'Quiet' }))
    await userEvent.click(panel.getByRole('button', { name: 'No marketing until …' }))
    fireEvent.change(panel.getByLabelText('Until the beginning of'), { target: { value: '2026-05-01' } }) // prettier-ignore
    await userEvent.click(panel.getByRole('button', { name: 'Be quiet' }))
    const until = Date.UTC(2026, 3, 30, 23)
    await waitFor(() => expect(changing(asked)).toEqual([['POST', '/api/people/c-1/acts', { did: 'quiet', until }]])) // prettier-ignore
  })

  test('gets a consent only with how they said it, lists and tags with a name', async () => {
    const asked = await openPerson()
    const consent = within(screen.getByRole('region', { name: 'Consent' }))
    await userEvent.click(consent.getAllByRole('button', { name: 'They said no' })[0] as HTMLElement)
    await userEvent.type(consent.getByRole('textbox'), 'on the phone{Enter}')
    await userEvent.type(screen.getByLabelText('Give the tag'), 'fair{Enter}')
    await userEvent.click(screen.getByRole('button', { name: 'Take “letters” off' }))
    await waitFor(() => expect(changing(asked)).toHaveLength(3))
    expect(changing(asked).map(([, , body]) => body)).toEqual([
      { did: 'consent', channel: 'email', given: false, how: 'on the phone' },
      { did: 'tag', name: 'fair', change: 'add' },
      { did: 'list', name: 'letters', change: 'remove' },
    ])
  }) // prettier-ignore

  test('leads to why, or why not, of a workflow', async () => {
    await openPerson({}, { '/api/live-workflows': [{ id: 'w1', name: 'After dispatch', definition: DEFINITION }] }) // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'Why, or why not …' }))
    await screen.findByRole('option', { name: 'After dispatch' })
    fireEvent.change(screen.getByLabelText(/^What a workflow made of them/), { target: { value: 'w1' } }) // prettier-ignore
    expect(await screen.findByText('A rehearsal')).toBeDefined()
  })

  test('is erased by an owner who types their id; marketers hand out what is known, staff look', async () => {
    const asked = await openPerson({}, { 'POST /api/people/c-1/erase': done })
    await userEvent.click(screen.getByRole('button', { name: 'Erase them …' }))
    const erase = screen.getByRole('button', { name: 'Erase them' })
    expect(erase).toHaveProperty('disabled', true)
    await userEvent.type(screen.getByLabelText(/^To erase them/), 'c-1')
    await userEvent.click(erase)
    expect(await screen.findByText('People')).toBeDefined()
    expect(changing(asked)).toEqual([['POST', '/api/people/c-1/erase', { id: 'c-1' }]])
  })

  test.each(['marketer', 'staff'] as const)('a %s erases nobody', async (role) => {
    await openPerson({}, {}, role)
    expect(screen.queryByRole('button', { name: 'Erase them …' })).toBeNull()
    expect(screen.queryAllByRole('link', { name: 'As JSON' })).toHaveLength(role === 'marketer' ? 1 : 0) // prettier-ignore
    expect(screen.queryAllByRole('button', { name: 'Take them out' })).toHaveLength(role === 'marketer' ? 1 : 0) // prettier-ignore
  })
})

const DEFINITION = { format: 'yomble.workflow', formatVersion: 1, name: 'After dispatch', description: '', priority: 50, trigger: { kind: 'event', event: 'order.fulfilled' }, entry: { rule: { kind: 'every' }, overlap: 'allow' }, exclusions: [], steps: [] } // prettier-ignore

describe('everybody', () => {
  async function openPeople(answers: Answers = {}, role: Role = 'owner') {
    const asked = show(
      <PeoplePage />,
      {
        '/api/segments': [],
        '/api/labels': [{ name: 'letters', people: 1 }],
        'POST /api/people/search': { people: [INES, BARE], after: null },
        'POST /api/people/count': { of: 4000, looked: 4000, held: 2 },
        ...answers,
      },
      { address: '/people', role },
    )
    await screen.findByText('Inês Quaresma')
    return asked
  }

  test('is listed, those without a name too, in the order that is asked for', async () => {
    const asked = await openPeople()
    expect(screen.getByRole('link', { name: /c-2/ })).toBeDefined()
    fireEvent.change(screen.getByLabelText('In which order'), { target: { value: 'spent' } })
    await waitFor(() => expect(asked.findLast(({ path }) => path === '/api/people/search')?.body).toMatchObject({ sort: 'spent' })) // prettier-ignore
    expect(screen.getByRole('link', { name: 'CSV' }).getAttribute('href')).toContain('sort=spent')
  })

  test('is searched, and nobody found is said', async () => {
    const asked = await openPeople({
      'POST /api/people/search': (body: unknown) => ({ people: (body as { search: string }).search === '' ? [INES] : [], after: null }), // prettier-ignore
    })
    await userEvent.type(screen.getByLabelText('Search people'), 'nobody')
    await waitFor(() => expect(asked.findLast(({ path }) => path === '/api/people/search')?.body).toMatchObject({ search: 'nobody' })) // prettier-ignore
    await waitFor(() => expect(screen.queryByText('Inês Quaresma')).toBeNull())
  })

  test('is looked at by staff, who take no file of it', async () => {
    await openPeople({}, 'staff')
    expect(screen.queryByRole('link', { name: 'CSV' })).toBeNull()
    expect(screen.queryByRole('link', { name: 'Files' })).toBeNull()
  })
})
