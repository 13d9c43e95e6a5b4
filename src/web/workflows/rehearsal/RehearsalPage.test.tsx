import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { expect, test } from 'vitest'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition, anEmail, happened, on, wait } from '../../../testing/builders.ts'
import { show, type Asked } from '../../testing/screen.tsx'
import { RehearsalPage } from './RehearsalPage.tsx'

const NOW = Date.UTC(2026, 3, 14, 10, 20)
const followUp = aDefinition({
  name: 'Thanks',
  trigger: on('order.placed'),
  exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
  steps: [
    anEmail('first', { name: 'Thank you' }),
    wait('w', 'P3D'),
    anEmail('second', { name: 'How is it', purpose: 'marketing' }),
  ],
})
const workflow = (draft: Definition) => ({ id: 'w1', state: 'draft', draft, draftRevision: 1, liveVersion: null, live: null, changedAt: 0, secondPerson: null }) // prettier-ignore

const OCCASIONS = [
  {
    event: 'e1',
    type: 'order.placed',
    at: NOW,
    number: '30842',
    came: { runId: 7, turnedAway: null, isBeforeLive: false, state: 'live' },
    subject: { at: '2026-03-01T09:00:00Z', customer: { firstName: '', country: 'NP', zone: 'Asia/Kathmandu', emailConsent: false, smsConsent: null, hasPhone: false, tags: [] }, earlier: [80, 60, 40].map((daysBefore) => ({ daysBefore, lines: [{ productId: 'p1', title: 'Bee brush', category: null, quantity: 1, unitPriceMinor: 900 }] })), lines: [{ productId: 'p1', title: 'Bee brush', category: null, quantity: 2, unitPriceMinor: 900 }], stars: 5, dateInDays: 30, between: [{ key: 'real-0', what: 'refunded', afterMinutes: 1440 }] },
  },
] // prettier-ignore
let saved: Definition[] = []
let asked: Asked[] = []
async function open(
  draft: Definition = followUp,
  role: 'marketer' | 'staff' = 'marketer',
  query = '',
) {
  saved = []
  asked = show(
    <Routes>
      <Route path="/workflows/:id/rehearsal" element={<RehearsalPage />} />
    </Routes>,
    {
      '/api/workflows/w1': workflow(draft),
      '/api/workflows/w1/versions': [{ version: 1, publishedAt: 0, publishedBy: 'maren', inProgress: 0 }],
      '/api/workflows/w1/versions/1': { version: 1, definition: aDefinition({ name: 'Thanks', trigger: on('order.placed'), steps: [anEmail('old', { name: 'As it was' })] }) },
      '/api/workflow-names': [],
      '/api/clock': { now: NOW, movedByHand: true, target: null },
      '/api/shop-rules': { messageGap: null, quietHours: { from: '21:00', to: '08:00' }, hookSecret: null, holdoutSince: 5, holdoutPercent: 50 },
      'PUT /api/workflows/w1/draft': (body: unknown) => {
        saved.push((body as { definition: Definition }).definition)
        return { draftRevision: saved.length + 1 }
      },
      '/api/rehearsal/people': [{ id: 'c1', name: 'Edith Moran', email: null }],
      'POST /api/rehearsal/message': ({ place }: { place: number }) => ({ sample: null, to: 'marta@example.org', subject: `Subject ${place}`, previewText: '', html: null, text: `Text ${place}`, bytes: 0, fields: {}, notes: [], problem: null }),
      'POST /api/rehearsal/series': { sent: 2, to: 'maren@combwright.example' },
      'POST /api/rehearsal/likenesses': { occasions: OCCASIONS, happened: [] },
      '/api/counter/products': [{ id: 'p1', title: 'Bee brush', category: 'Tools', priceMinor: 900, currency: 'EUR' }],
    },
    { address: `/workflows/w1/rehearsal${query}`, role },
  ) // prettier-ignore
  await screen.findByText(role === 'staff' ? 'Marketers rehearse.' : 'What came of it')
}
const story = () => screen.getByRole('region', { name: 'What came of it' }).textContent ?? ''
const way = () => screen.getByLabelText('The way they take').textContent ?? ''
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }))

test('somebody made up is taken through, with each message at its local time', async () => {
  await open()
  expect(story()).toContain('2 messages; local times are those of Europe/Dublin.')
  expect(way()).toContain('Thank you')
  expect(way()).toContain('sent 11:20')
  expect(way()).toContain('Fri 17 Apr, 11:20')
})

test('what happens in between changes what comes after at once, and can be moved and taken out', async () => {
  await open()
  await press('refunded')
  await waitFor(() => expect(story()).toContain('Left before “How is it”'))
  expect(story()).toContain('1 message;')
  expect(way()).toContain('left 11:20')
  // After the second message it changes nothing.
  fireEvent.change(screen.getByLabelText('How long after the beginning: refunded'), { target: { value: '4' } }) // prettier-ignore
  await waitFor(() => expect(story()).toContain('2 messages;'))
  await press('Take out: refunded')
  expect(await screen.findByText('Nothing else happens.')).toBeDefined()
})

test('who they are counts: consent, and where they live', async () => {
  await open()
  const who = within(screen.getByRole('region', { name: 'Who' }))
  await userEvent.selectOptions(who.getByLabelText('Marketing by email'), 'no')
  await waitFor(() => expect(way()).toContain('skipped: no consent'))
  fireEvent.change(who.getByLabelText('Time zone; empty for the shop’s'), { target: { value: 'Asia/Kathmandu' } }) // prettier-ignore
  // A quarter to six hours ahead of UTC; half a name is none yet.
  await waitFor(() => expect(way()).toContain('sent 16:05'))
  fireEvent.change(who.getByLabelText('Time zone; empty for the shop’s'), { target: { value: 'Asia/Kath' } }) // prettier-ignore
  expect(way()).toContain('sent 16:05')
})

test('whom nothing starts is said to get nothing', async () => {
  await open(
    aDefinition({
      name: 'Large orders',
      trigger: on('order.placed', {
        filter: { kind: 'field', field: 'order.total', op: 'gte', value: { amountMinor: 100_000, currency: 'EUR' } },
      }),
      steps: [anEmail('m')],
    }),
  ) // prettier-ignore
  expect(story()).toContain('They do not come in.')
  expect(story()).toContain('the trigger filter does not hold')
})

test('a rehearsal is kept as an example, and one that comes out otherwise is answered', async () => {
  await open()
  const examples = within(screen.getByRole('region', { name: 'Examples' }))
  expect(examples.getByText('0 of 1 way covered; nobody takes')).toBeDefined()
  await press('refunded')
  await waitFor(() => expect(story()).toContain('1 message;'))
  await userEvent.type(examples.getByLabelText('Keep this one as'), 'Refunded on day 1')
  await userEvent.click(examples.getByRole('button', { name: 'Keep' }))
  expect(await examples.findByText('Refunded on day 1')).toBeDefined()
  expect(examples.getByText('as kept: 1 message')).toBeDefined()
  expect(examples.getByText('1 of 1 way covered')).toBeDefined()
  await waitFor(() => expect(saved.at(-1)?.examples).toMatchObject([{ name: 'Refunded on day 1', outcome: { exclusions: ['refund'] } }])) // prettier-ignore
})

test('one that no longer comes out as kept says in what, until that is meant so', async () => {
  const { at } = { at: '2026-04-14T10:20:00Z' }
  const outcome = { runs: 1, messages: [{ step: 'first', at }], ways: [], exclusions: [] }
  const subject = { at, customer: { firstName: 'M', country: null, zone: null, emailConsent: true, smsConsent: null, hasPhone: false, tags: [] }, earlier: [], lines: [{ productId: 'p1', title: 'Bee brush', category: null, quantity: 1, unitPriceMinor: 900 }], stars: 5, dateInDays: 30, between: [] } // prettier-ignore
  await open({ ...followUp, examples: [{ key: 'e', name: 'Plain', subject, outcome }] })
  const examples = within(screen.getByRole('region', { name: 'Examples' }))
  expect(examples.getByText('now gets “How is it”, on 17 April, 11:20')).toBeDefined()
  await userEvent.click(examples.getByRole('button', { name: 'Look at Plain' }))
  expect(story()).toContain('2 messages;')
  await userEvent.click(examples.getByRole('button', { name: 'Meant so: Plain' }))
  expect(await examples.findByText('as kept: 2 messages')).toBeDefined()
  await userEvent.click(examples.getByRole('button', { name: 'Remove Plain' }))
  expect(await examples.findByText(/^None yet/)).toBeDefined()
})

test('somebody is looked for who takes what nobody takes', async () => {
  await open()
  const examples = within(screen.getByRole('region', { name: 'Examples' }))
  await userEvent.click(
    examples.getByRole('button', { name: /^Make one: the exclusion: .*refunded/ }),
  )
  await waitFor(() => expect(story()).toContain('Left before “How is it”'))
  await userEvent.click(examples.getByRole('button', { name: 'Keep' }))
  expect(await examples.findByText('1 of 1 way covered')).toBeDefined()
})

test('where nobody is found it says so', async () => {
  const never = aDefinition({
    name: 'Thanks',
    trigger: on('order.placed'),
    steps: [
      {
        key: 's',
        kind: 'split',
        branches: [{ key: 'b', name: 'From nowhere', when: { kind: 'field', field: 'order.number', op: 'is', value: 'ZZZ' }, steps: [] }],
        otherwise: [anEmail('m')],
      },
    ],
  }) // prettier-ignore
  await open(never)
  const examples = within(screen.getByRole('region', { name: 'Examples' }))
  await userEvent.click(examples.getByRole('button', { name: 'Make one: the path “From nowhere”' }))
  expect(await examples.findByText('nobody found', {}, { timeout: 50_000 })).toBeDefined()
  // Some thousands are taken through.
}, 60_000)

test('somebody made up becomes like somebody real, with what happened to them afterwards', async () => {
  await open()
  const real = within(screen.getByRole('region', { name: 'Like somebody real' }))
  await userEvent.type(real.getByLabelText('Search people'), 'Moran')
  await userEvent.click(await real.findByRole('button', { name: 'Edith Moran' }))
  await userEvent.click(await real.findByRole('button', { name: /^30842, order placed 14 April/ }))
  await waitFor(() => expect(story()).toContain('Asia/Kathmandu'))
  expect(story()).toContain('Left before “How is it”')
  expect(screen.getByLabelText('How long after the beginning: refunded')).toHaveProperty(
    'value',
    '1',
  )
})

test('staff are told that it is not for them', async () => {
  await open(followUp, 'staff')
  expect(screen.queryByText(/^Loading/)).toBeNull()
})

test('what came of somebody’s occasions is said beside each', async () => {
  await open()
  await userEvent.type(screen.getByLabelText('Search people'), 'Edith')
  await userEvent.click(await screen.findByRole('button', { name: 'Edith Moran' }))
  const real = screen.getByRole('region', { name: 'Like somebody real' })
  const link = await within(real).findByRole('link', { name: 'what was decided' })
  expect(link.getAttribute('href')).toBe('/runs/7')
})

const why = () => screen.getByRole('region', { name: 'Why, and what would have to differ' })

test('why somebody does not get a message, and what would have to differ; tried at once', async () => {
  await open(followUp, 'marketer', '?person=c1&at=0')
  await waitFor(() => expect(story()).toContain('Left before'))
  expect(screen.getByText(/Begins like their 30842/)).toBeDefined()
  await userEvent.selectOptions(within(why()).getByLabelText('Message'), 'How is it')
  await press('What would have to differ?')
  // They were refunded, and have no consent either: neither alone turns it.
  expect(await within(why()).findByText(/No single thing turns it/)).toBeDefined()
  const both = within(why()).getAllByRole('listitem').find((item) => /without “refunded”/.test(item.textContent ?? '') && /with consent to marketing by email/.test(item.textContent ?? '')) // prettier-ignore
  expect(both).toBeDefined()
  await userEvent.click(within(both as HTMLElement).getByRole('button', { name: 'Try it' }))
  await waitFor(() => expect(story().match(/Decided to send/g)).toHaveLength(2))
})

test('a version is rehearsed as it was published, and keeps no examples', async () => {
  await open(followUp, 'marketer', '?version=1')
  expect(way()).toContain('As it was')
  expect(screen.queryByRole('region', { name: 'Examples' })).toBeNull()
  await userEvent.selectOptions(await screen.findByLabelText('Rehearsed is'), 'the draft')
  await waitFor(() => expect(way()).toContain('Thank you'))
  expect(screen.getByRole('region', { name: 'Examples' })).toBeDefined()
})

test('each message is shown as they would get it, and all are sent to oneself', async () => {
  await open()
  const gets = within(screen.getByRole('region', { name: 'What they get' }))
  expect(await gets.findByText('Text 0')).toBeDefined()
  await userEvent.click(gets.getByRole('button', { name: /How is it/ }))
  expect(await gets.findByText('Text 1')).toBeDefined()
  expect(gets.getByText('to marta@example.org')).toBeDefined()
  await userEvent.click(gets.getByRole('button', { name: 'Send all 2 to me' }))
  expect(await screen.findByText('2 messages sent to maren@combwright.example.')).toBeDefined()
  const series = asked.find(({ path }) => path === '/api/rehearsal/series')
  expect(series?.body).toMatchObject({ definition: { name: 'Thanks' }, subject: { stars: 5 } })
})

test('the date that a workflow goes by is set in days', async () => {
  const trigger = { kind: 'date', field: 'subscription.endsAt', days: 7, direction: 'before', at: '09:00', zone: 'shop' } as const // prettier-ignore
  await open(aDefinition({ name: 'Renewal', trigger, steps: [anEmail('m', { subject: 'Soon', body: 'Soon.' })] })) // prettier-ignore
  expect(way()).toContain('7 May')
  fireEvent.change(screen.getByLabelText('Days until the date it goes by'), { target: { value: '40' } }) // prettier-ignore
  await waitFor(() => expect(way()).toContain('17 May'))
})

test('what happens is dragged in time, down to the second before a message', async () => {
  await open()
  await press('refunded')
  const dragged = screen.getByLabelText<HTMLInputElement>('When on their way: refunded')
  // As long as they are on their way.
  expect(dragged.max).toBe('4320')
  fireEvent.change(dragged, { target: { value: '4319' } })
  await waitFor(() => expect(story()).toContain('Left before “How is it”'))
  fireEvent.change(dragged, { target: { value: '4320' } })
  const unit = screen.getByLabelText('In what: refunded')
  const amount = screen.getByLabelText<HTMLInputElement>('How long after the beginning: refunded')
  await userEvent.selectOptions(unit, 'seconds')
  fireEvent.change(amount, { target: { value: String(3 * 86_400 - 1) } })
  await waitFor(() => expect(amount.value).toBe(String(3 * 86_400 - 1)))
  expect(story()).toContain('Left before “How is it”')
  fireEvent.change(amount, { target: { value: String(3 * 86_400 + 1) } })
  await waitFor(() => expect(story()).toContain('2 messages;'))
})

test('of very many messages the first are sent, and the button says how many', async () => {
  const many = Array.from({ length: 35 }, (_, index) => anEmail(`m${index}`, { name: `Message ${index}` })) // prettier-ignore
  await open(aDefinition({ name: 'Many', trigger: on('order.placed'), steps: many }))
  expect(screen.getByRole('button', { name: 'Send the first 30 to me' })).toBeDefined()
})
