import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { describe, expect, test } from 'vitest'
import type { LedgerRow, RunResponse } from '../../contract/activity.ts'
import type { AttentionItem } from '../../contract/attention.ts'
import { at } from '../../testing/builders.ts'
import { listItem } from '../testing/listItem.ts'
import { done, refusal, show, type Answers } from '../testing/screen.tsx'
import { LedgerPage } from './LedgerPage.tsx'
import { RunPage } from './RunPage.tsx'

const THANKS = { id: 'thanks', name: 'Thanks' }
const COMING = {
  isPaused: true,
  next: { step: 'Care guide', at: at('2026-04-17T09:20:00Z') },
  lines: [{ at: at('2026-04-17T09:20:00Z'), kind: 'sends', words: 'Decided to send “Care guide”' }],
  hindrances: [{ would: 'They leave if: this order was refunded', now: 'no order refunded' }],
}
const EDITH = { id: 'c1', name: 'Edith Moran', email: 'edith@example.org' }
const row = (id: number, over: Partial<LedgerRow> = {}): LedgerRow => ({
  id,
  at: at('2026-04-14T09:20:00Z'),
  kind: 'sent',
  reason: null,
  words: `“Care guide” was sent (${id})`,
  step: 'm',
  runId: 7,
  workflow: THANKS,
  customer: EDITH,
  orderNumber: '1042',
  ...over,
})
const FAILED: AttentionItem = {
  kind: 'failed',
  id: 31,
  runId: 7,
  workflow: THANKS,
  step: 'Care guide',
  customer: EDITH,
  to: 'edith@example.org',
  error: '550 no such mailbox',
  at: at('2026-04-14T09:20:00Z'),
}

const queryOf = (path: string) => Object.fromEntries(new URLSearchParams(path.split('?')[1]))
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

describe('the ledger', () => {
  function open(answers: Answers = {}, role: 'marketer' | 'staff' = 'marketer') {
    const asked = show(
      <LedgerPage />,
      {
        '/api/ledger': { rows: [row(9), row(8)], more: true },
        '/api/workflow-names': [listItem('Thanks'), listItem('Renewal')],
        ...answers,
      },
      { address: '/ledger', role },
    )
    const lastQuery = () =>
      queryOf(asked.findLast(({ path }) => path.startsWith('/api/ledger'))?.path ?? '')
    return { asked, lastQuery }
  }

  test('each decision says whom it was about, and leads to the way they took', async () => {
    open({
      '/api/ledger': {
        rows: [
          row(9),
          row(8, { runId: null, words: 'Was turned away', orderNumber: null }),
          row(7, { customer: { id: 'c2', name: '', email: 'ines@example.org' } }),
          row(6, { customer: { id: 'c3', name: '', email: null } }),
        ],
        more: false,
      },
    })
    const rows = await screen.findAllByRole('row')
    const cells = rows.slice(1).map((one) => within(one).getAllByRole('cell'))
    expect(cells.map(([, who]) => who?.textContent)).toEqual(['Edith Moran', 'Edith Moran', 'ines@example.org', 'c3']) // prettier-ignore
    expect(cells.map(([, , order]) => order?.textContent)).toEqual(['1042', '–', '1042', '1042'])
    expect(screen.getByRole('link', { name: /\(9\)/ }).getAttribute('href')).toBe('/runs/7')
    // Who was turned away has taken no way that could be shown: somebody like them is taken through.
    expect(screen.getByRole('link', { name: 'Was turned away' }).getAttribute('href')).toBe(`/workflows/thanks/rehearsal?person=c1&at=${at('2026-04-14T09:20:00Z')}`) // prettier-ignore
    expect(screen.queryByRole('button', { name: 'Earlier' })).toBeNull()
  })

  test('it is searched by what was decided, by workflow and by words; each begins at the newest', async () => {
    const { lastQuery } = open()
    await screen.findAllByRole('row')
    press('Earlier')
    await waitFor(() => expect(lastQuery()).toMatchObject({ before: '8' }))
    press('Skipped or left')
    await waitFor(() => expect(lastQuery()).toEqual({ show: 'notSent' }))
    expect(screen.getByRole('button', { name: 'Skipped or left' }).ariaPressed).toBe('true')
    fireEvent.change(screen.getByLabelText('Workflow'), { target: { value: 'Renewal' } })
    fireEvent.change(screen.getByLabelText('Search the ledger'), { target: { value: '1042' } })
    await waitFor(() =>
      expect(lastQuery()).toEqual({ show: 'notSent', workflow: 'Renewal', search: '1042' }),
    )
    press('Earlier')
    await waitFor(() => expect(lastQuery()).toMatchObject({ before: '8', search: '1042' }))
    press('Back to the newest')
    await waitFor(() => expect(lastQuery()).not.toHaveProperty('before'))
  })

  test('what is earlier is put below; back at the newest it is gone, and what is new is asked for', async () => {
    const page = { newest: [row(9), row(8)] }
    const { asked } = open({
      '/api/ledger': () => ({ rows: page.newest, more: true }),
      '/api/ledger?show=all&before=8': { rows: [row(7), row(6)], more: false },
    })
    const lines = () => screen.getAllByRole('row').slice(1).map((one) => /\((\d)\)/.exec(one.textContent ?? '')?.[1]) // prettier-ignore
    await screen.findAllByRole('row')
    press('Earlier')
    await waitFor(() => expect(lines()).toEqual(['9', '8', '7', '6']))
    expect(screen.queryByRole('button', { name: 'Earlier' })).toBeNull()
    expect(asked.filter(({ path }) => path.startsWith('/api/ledger'))).toHaveLength(2)
    page.newest = [row(10), row(9)].map((one) => ({ ...one, words: one.words.replace('(10)', '(0)') })) // prettier-ignore
    press('Back to the newest')
    await waitFor(() => expect(lines()).toEqual(['0', '9']))
  })

  test('where there is nothing, it says what will be there', async () => {
    open({ '/api/ledger': { rows: [], more: false } })
    expect(await screen.findByText('Nothing here.')).toBeDefined()
  })

  test('what went wrong while it was asked is said, and asked again', async () => {
    const answers = [() => refusal(500, 'It broke.'), () => ({ rows: [row(9)], more: false })]
    open({ '/api/ledger': () => answers.shift()?.() })
    expect(await screen.findByText('It broke.')).toBeDefined()
    fireEvent.click(screen.getByRole('button', { name: /again/i }))
    expect(await screen.findByText(/\(9\)/)).toBeDefined()
  })
})

describe('what needs attention', () => {
  const UNSURE: AttentionItem = { ...FAILED, kind: 'unsure', id: 32, error: null, step: 'Unsure' }
  const STUCK: AttentionItem = { ...FAILED, kind: 'stuck', id: 33, to: null, step: 'Stuck' }

  async function open(role: 'marketer' | 'staff' = 'marketer', answers: Answers = {}) {
    const asked = show(
      <LedgerPage />,
      {
        '/api/ledger': { rows: [row(9)], more: false },
        '/api/workflows': [],
        '/api/attention': [FAILED, UNSURE, STUCK],
        ...answers,
      },
      { address: '/ledger?show=attention', role },
    )
    const list = await screen.findByRole('region', { name: 'Needs attention now' })
    await within(list).findAllByRole('row')
    const of = (step: string) =>
      within(
        within(list)
          .getByRole('link', { name: `“${step}”` })
          .closest('tr') as HTMLElement,
      )
    return { of, posts: () => asked.filter(({ method }) => method === 'POST') }
  }

  test('says what is wrong with each, in words', async () => {
    const { of } = await open()
    expect(of('Care guide').getByText('could not be sent')).toBeDefined()
    expect(of('Care guide').getByText('550 no such mailbox')).toBeDefined()
    expect(of('Unsure').getByText('may or may not have arrived')).toBeDefined()
    expect(of('Stuck').getByText('could not go on')).toBeDefined()
    expect(of('Stuck').getByText('edith@example.org')).toBeDefined()
  })

  test.each([
    ['Care guide', 'Try again', '/api/messages/31/repair', { did: 'tryAgain' }],
    ['Care guide', 'Give up', '/api/messages/31/repair', { did: 'giveUp' }],
    ['Unsure', 'Send again', '/api/messages/32/repair', { did: 'tryAgain' }],
    ['Unsure', 'Leave it', '/api/messages/32/repair', { did: 'giveUp' }],
    ['Stuck', 'Try again', '/api/runs/33/repair', undefined],
  ])('%s: %s', async (step, button, path, body) => {
    const { of, posts } = await open('marketer', { [`POST ${path}`]: done })
    fireEvent.click(of(step).getByRole('button', { name: button }))
    await waitFor(() => expect(posts()).toEqual([{ method: 'POST', path, body }]))
  })

  test('a run that is stuck cannot be given up', async () => {
    const { of } = await open()
    expect(of('Stuck').getAllByRole('button')).toHaveLength(1)
  })

  test('staff only looks', async () => {
    const { of } = await open('staff')
    expect(of('Care guide').queryAllByRole('button')).toEqual([])
  })

  test('what cannot be mended any more says why', async () => {
    const refused = () => refusal(409, 'It has been sent by now.')
    const { of } = await open('marketer', { 'POST /api/messages/31/repair': refused })
    fireEvent.click(of('Care guide').getByRole('button', { name: 'Try again' }))
    expect(await screen.findByText('It has been sent by now.')).toBeDefined()
  })
})

describe("one person's way", () => {
  const RUN: RunResponse = {
    id: 7,
    workflow: { ...THANKS, version: 3 },
    customer: EDITH,
    order: { id: 'o1', number: '1042', total: '€84.00', status: 'fulfilled' },
    enteredAt: at('2026-04-14T09:20:00Z'),
    status: 'inProgress',
    outcome: null,
    dueAt: at('2026-04-16T10:00:00Z'),
    lines: [
      { id: 1, at: at('2026-04-14T09:20:00Z'), kind: 'entered', reason: null, words: 'Edith entered', step: null, mailId: null },
      { id: 2, at: at('2026-04-15T09:20:00Z'), kind: 'sent', reason: null, words: 'The care guide went out', step: 'm', mailId: 5 },
    ],
  } // prettier-ignore

  async function open(over: Partial<RunResponse> = {}) {
    show(
      <Routes>
        <Route path="/runs/:id" element={<RunPage />} />
      </Routes>,
      { '/api/runs/7': { ...RUN, ...over }, '/api/runs/7/coming': COMING },
      { address: '/runs/7' },
    )
    await screen.findByRole('list', { name: 'What was decided' })
    const facts = screen.getAllByRole('term').map((term) => term.textContent)
    const values = screen.getAllByRole('definition').map((one) => one.textContent)
    return Object.fromEntries(facts.map((fact, index) => [fact, values[index]]))
  }

  test('what is still to come if nothing changes, and what would stop it', async () => {
    await open({ status: 'inProgress', outcome: null, dueAt: at('2026-04-17T09:20:00Z') })
    const coming = await screen.findByRole('list', { name: 'Still to come' })
    expect(coming.textContent).toContain('17 April, 10:20Decided to send “Care guide”')
    expect(screen.getByText('The workflow is paused: nothing of it before that is over.')).toBeDefined() // prettier-ignore
    expect(screen.getByText('What would stop “Care guide”, or move it')).toBeDefined()
    expect(screen.getByText('They leave if: this order was refunded').parentElement?.textContent).toContain('no order refunded') // prettier-ignore
  })

  test('nothing is to come of one that has ended', async () => {
    await open({ status: 'ended', outcome: 'completed', dueAt: null })
    expect(screen.queryByText(/Still to come/)).toBeNull()
  })

  test('decision by decision, with the mail that was sent', async () => {
    const facts = await open()
    expect(facts).toMatchObject({
      Address: 'edith@example.org',
      Order: '1042, €84.00, fulfilled',
      Version: 'v3',
    })
    expect(facts['Now']).toMatch(/^waiting until .*16 Apr/)
    const list = screen.getByRole('list', { name: 'What was decided' })
    const lines = within(list).getAllByRole('listitem')
    expect(lines.map(({ textContent }) => textContent)).toEqual([
      expect.stringMatching(/Edith entered$/),
      expect.stringMatching(/The care guide went out.*show the mail$/),
    ])
    const mail = screen.getByRole('link', { name: 'show the mail' })
    expect(mail.getAttribute('href')).toBe('/mailbox/5')
    expect(screen.getByRole('link', { name: 'Ledger' }).getAttribute('href')).toBe(
      '/ledger?search=1042',
    )
  })

  test.each([
    [{ dueAt: null }, 'in progress'],
    [{ status: 'ended', outcome: 'left', dueAt: null }, 'left by an exclusion'],
    [{ status: 'ended', outcome: 'completed', dueAt: null }, 'finished'],
    [{ status: 'ended', outcome: 'retired', dueAt: null }, 'ended when the workflow was retired'],
  ] as const)('how it stands: %o', async (over, words) => {
    expect((await open(over))['Now']).toBe(words)
  })

  test('of somebody without an address and an order', async () => {
    const facts = await open({ customer: { id: 'c9', name: '', email: null }, order: null })
    expect(facts['Address']).toBe('not known')
    expect(facts).not.toHaveProperty('Order')
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('c9 in Thanks')
  })
})
