import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import type { Arrival } from '../../contract/arrivals.ts'
import type { ConnectionDetail } from '../../contract/connections.ts'
import { done, show } from '../testing/screen.tsx'
import { EventsPage } from './EventsPage.tsx'
import { PullForm } from './PullForm.tsx'

const CLOCK = { now: Date.parse('2026-04-14T09:20:00Z'), movedByHand: true, target: null }
const taken: Arrival = {
  key: 2,
  receivedAt: CLOCK.now,
  from: '/web-shop',
  type: 'order.placed',
  words: 'Order placed: 10234, €45.00, 3 items',
  customer: { id: 'c/1', name: 'Ines Duarte' },
  started: 2,
  problems: [],
  event: { id: 'e1' },
}
const refused: Arrival = { ...taken, key: 1, from: 'till', type: null, words: 'time must be a moment', customer: null, started: 0, problems: [{ path: 'time', message: 'must be a moment' }], event: { id: 'e0', time: 'soon' } } // prettier-ignore

describe('events that came', () => {
  const open = (answers: Readonly<Record<string, unknown>> = {}) =>
    show(
      <EventsPage />,
      {
        '/api/clock': CLOCK,
        '/api/events?show=taken': { rows: [taken], more: false },
        '/api/events?show=refused': { rows: [refused], more: false },
        'POST /api/events/try': { problems: [], ignored: [] },
        ...answers,
      },
      { address: '/settings/events' },
    )

  test('say what they told, of whom, from where, and what they started; and how they came', async () => {
    open()
    const list = await screen.findByRole('list', { name: 'Taken in' })
    expect(list.textContent).toContain('Order placed: 10234')
    expect(list.textContent).toContain('from /web-shop, 2 runs started')
    expect(within(list).getByRole('link', { name: 'Ines Duarte' }).getAttribute('href')).toBe('/people/c%2F1') // prettier-ignore
    fireEvent.click(within(list).getByRole('button'))
    expect(within(list).getByLabelText<HTMLTextAreaElement>('As it came').value).toContain('"e1"')
  })

  test('those that were refused say why, and who sent them', async () => {
    open()
    fireEvent.click(await screen.findByRole('button', { name: 'Refused' }))
    const list = await screen.findByRole('list', { name: 'Refused' })
    expect(list.textContent).toContain('time must be a moment')
    expect(list.textContent).toContain('no known type from till')
  })

  test('one is written, tried, and sent; programs say the same', async () => {
    const asked = open({ 'POST /api/events': { status: 'accepted' } })
    const text = await screen.findByLabelText<HTMLTextAreaElement>('The event')
    expect(await screen.findByText('It would be taken in.')).toBeDefined()
    const own = { ...(JSON.parse(text.value) as object), id: 'mine' }
    fireEvent.change(text, { target: { value: JSON.stringify(own) } })
    fireEvent.click(screen.getByText('Python'))
    expect(screen.getByLabelText<HTMLTextAreaElement>('A program').value).toContain('"id": "mine"')
    fireEvent.click(screen.getByText('Send it'))
    await waitFor(() => expect(asked.find(({ method, path }) => method === 'POST' && path === '/api/events')?.body).toEqual({ event: own })) // prettier-ignore
    fireEvent.change(text, { target: { value: '{' } })
    expect(await screen.findByText('This is not JSON.')).toBeDefined()
    expect(screen.getByText<HTMLButtonElement>('Send it').disabled).toBe(true)
  })
})

describe('what is fetched', () => {
  const detail = (over: Partial<ConnectionDetail> = {}): ConnectionDetail => ({
    id: 'k', name: 'Old shop', isOn: true, createdAt: 0, signature: 'none', mapping: '', rule: null, pull: null, pulled: null, bodies: [], ...over,
  }) // prettier-ignore
  const pull = { url: 'https://shop.example/orders', everyMinutes: 60, next: 'next', isAuthorized: true } // prettier-ignore
  const open = (given: ConnectionDetail) =>
    show(<PullForm detail={given} />, { 'PUT /api/connections/k': done, '/api/clock': CLOCK })

  test('begins with an address that is one', async () => {
    const asked = open(detail())
    const begin = screen.getByRole<HTMLButtonElement>('button', { name: 'Fetch it from now on' })
    expect(begin.disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('Address'), { target: { value: 'https://shop.example/orders' } }) // prettier-ignore
    fireEvent.change(screen.getByLabelText('Authorization, if it asks for one'), { target: { value: 'Bearer x' } }) // prettier-ignore
    fireEvent.click(begin)
    await waitFor(() =>
      expect(asked.at(-1)?.body).toEqual({
        pull: { url: 'https://shop.example/orders', everyMinutes: 15, next: '', authorization: 'Bearer x' },
      }),
    ) // prettier-ignore
  })

  test('says how it went, keeps the secret that it has, and stops', async () => {
    const pulled = { at: CLOCK.now, problem: 'it answered 500', pages: 0, fresh: 0, refused: 0 }
    const asked = open(detail({ pull, pulled }))
    expect(screen.getByRole('status').textContent).toContain('it answered 500')
    fireEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ pull: { url: pull.url, everyMinutes: 60, next: 'next' } })) // prettier-ignore
    fireEvent.click(screen.getByRole('button', { name: 'Fetch now' }))
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ fetchNow: true }))
    fireEvent.click(screen.getByRole('button', { name: 'Fetch no more' }))
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ pull: null }))
  })
})
