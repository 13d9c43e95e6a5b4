import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { describe, expect, test } from 'vitest'
import type { MailResponse, MailSummary } from '../../contract/activity.ts'
import { refusal, show, type Answers } from '../testing/screen.tsx'
import { MailboxPage } from './MailboxPage.tsx'

const summary = (id: number, over: Partial<MailSummary> = {}): MailSummary => ({
  kind: 'mail',
  id,
  date: 0,
  from: 'Combwright <hello@combwright.example>',
  to: 'edith@example.org',
  subject: `Order ${id} is on its way`,
  snippet: 'Packed by Aoife this morning.',
  ...over,
})
const mail = (id: number, over: Partial<MailResponse> = {}): MailResponse => {
  const { snippet: _snippet, ...rest } = summary(id)
  return {
    ...rest,
    text: 'Packed by Aoife this morning.\nhttps://combwright.example/t/1',
    html: '<p>Packed by <b>Aoife</b></p>',
    headers: [
      { name: 'Message-ID', value: '<9@combwright.example>' },
      { name: 'List-Unsubscribe', value: '<https://combwright.example/u/1>' },
    ],
    cc: null,
    replyTo: null,
    deliveredTo: ['edith@example.org'],
    attachments: [],
    runId: 7,
    ...over,
  }
}

async function open(answers: Answers = {}, address = '/mailbox') {
  const asked = show(
    <Routes>
      <Route path="/mailbox/:id?" element={<MailboxPage />} />
    </Routes>,
    {
      '/api/mails': { mails: [summary(9), summary(8)], more: true, total: 60 },
      '/api/mails/9': mail(9),
      '/api/mails/8': mail(8),
      ...answers,
    },
    { address },
  )
  await screen.findByRole('heading', { level: 1, name: /Mailbox/ })
  const lists = () => asked.filter(({ path }) => /^\/api\/mails(\?|$)/.test(path))
  const lastQuery = () =>
    Object.fromEntries(new URLSearchParams(lists().at(-1)?.path.split('?')[1]))
  return { asked, lastQuery }
}

const article = async () => within(await screen.findByRole('article'))
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

describe('the list', () => {
  test('the newest is shown; another when it is chosen', async () => {
    await open()
    expect((await article()).getByRole('heading').textContent).toBe('Order 9 is on its way')
    expect(screen.getByText('60 messages')).toBeDefined()
    const [first, second] = screen.getAllByRole('link', { name: /Packed by Aoife/ })
    expect(first?.ariaCurrent).toBe('true')
    fireEvent.click(second as HTMLElement)
    await waitFor(async () =>
      expect((await article()).getByRole('heading').textContent).toBe('Order 8 is on its way'),
    )
  })

  test('it is searched, and gone through page by page', async () => {
    const { lastQuery } = await open()
    await article()
    press('Earlier')
    await waitFor(() => expect(lastQuery()).toEqual({ before: '8' }))
    // A search begins at the newest.
    fireEvent.change(screen.getByLabelText('Search mails'), { target: { value: 'on its way' } })
    await waitFor(() => expect(lastQuery()).toEqual({ search: 'on its way' }))
    press('Earlier')
    await waitFor(() => expect(lastQuery()).toEqual({ search: 'on its way', before: '8' }))
    press('Back to the newest')
    await waitFor(() => expect(lastQuery()).toEqual({ search: 'on its way' }))
  })

  test('where there is none, it says how one comes about', async () => {
    await open({ '/api/mails': { mails: [], more: false, total: 0 } })
    expect(await screen.findByText('No mail yet.')).toBeDefined()
    expect(screen.queryByRole('button', { name: 'Earlier' })).toBeNull()
  })
})

describe('a mail', () => {
  test('each of its parts is shown as it came; scripts in it cannot run', async () => {
    await open({}, '/mailbox/9')
    const shown = await article()
    const page = shown.getByTitle<HTMLIFrameElement>('The mail as HTML')
    expect(page.getAttribute('sandbox')).toBe('')
    expect(page.srcdoc).toContain('<b>Aoife</b>')
    press('As plain text')
    expect(shown.getByText(/combwright\.example\/t\/1/)).toBeDefined()
    press('Headers')
    expect(shown.getByText('<https://combwright.example/u/1>')).toBeDefined()
    expect(shown.getByRole('link', { name: 'Save as .eml' }).getAttribute('href')).toBe(
      '/api/mails/9/source',
    )
    expect(shown.getByRole('link', { name: 'Why was this sent?' }).getAttribute('href')).toBe(
      '/runs/7',
    )
  })

  test('without HTML it is shown as its text; without a run nobody asks why', async () => {
    await open({ '/api/mails/9': mail(9, { html: null, runId: null }) }, '/mailbox/9')
    const shown = await article()
    expect(shown.queryByRole('button', { name: 'As HTML' })).toBeNull()
    expect(shown.getByText(/combwright\.example\/t\/1/)).toBeDefined()
    expect(shown.queryByRole('link', { name: 'Why was this sent?' })).toBeNull()
  })

  test('a text message is shown as on a phone', async () => {
    const text = { kind: 'text', to: '+353861234567', subject: '', text: 'Your parcel is here.' } as const // prettier-ignore
    await open(
      {
        '/api/mails': { mails: [summary(9, text)], more: false, total: 1 },
        '/api/mails/9': mail(9, text),
      },
      '/mailbox/9',
    )
    const shown = await article()
    expect(shown.getByRole('heading').textContent).toBe('Text message to +353861234567')
    expect(shown.getByText('Your parcel is here.')).toBeDefined()
    expect(screen.getByText('1 message')).toBeDefined()
  })

  test('one that is not there says so', async () => {
    const missing = () => refusal(404, 'There is no such mail.')
    await open({ '/api/mails/77': missing }, '/mailbox/77')
    expect(await screen.findByText('There is no such mail.')).toBeDefined()
  })
})
