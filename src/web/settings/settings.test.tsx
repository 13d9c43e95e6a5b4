import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import type { User } from '../../contract/accounts.ts'
import type { Role } from '../../contract/roles.ts'
import type { NoticeResponse } from '../../contract/notices.ts'
import type { ApiKeyResponse } from '../../contract/session.ts'
import { shopRules, type ShopRules } from '../../contract/shopRules.ts'
import { done, refusal, show, type Answers } from '../testing/screen.tsx'
import { SettingsPage } from './SettingsPage.tsx'

const RULES: ShopRules = {
  messageGap: 'PT20H',
  quietHours: { from: '21:00', to: '08:00' },
  backOfficeUrl: null,
}
const NOTICE: NoticeResponse = {
  key: 'order-confirmation',
  label: 'Order confirmation',
  takenBy: null,
  candidates: [{ id: 'w1', name: 'Confirmation' }],
  trouble: null,
}
const KEY: ApiKeyResponse = {
  id: 'k1',
  name: 'web shop',
  scopes: ['events' as const],
  prefix: 'yk_12',
  createdAt: 0,
  lastUsedAt: null,
}
const PEOPLE: User[] = [
  { id: 'm', email: 'maren@combwright.example', name: 'Maren', role: 'owner', isInvited: false },
  { id: 't', email: 'tiago@combwright.example', name: 'Tiago', role: 'marketer', isInvited: true },
]
const SHOP_FACTS = { name: 'Combwright', zone: 'Europe/Dublin', locale: 'en-IE', senderName: 'Combwright', senderAddress: 'hello@combwright.example', secondPerson: false, strongOwners: false } // prettier-ignore
const refused = (message: string, path = 'x') =>
  refusal(400, 'This cannot be saved.', { [path]: message })

async function open(answers: Answers = {}, role: Role = 'owner') {
  const asked = show(
    <SettingsPage />,
    {
      '/api/senders/standing': { domains: [] },
      '/api/shop': SHOP_FACTS,
      '/api/addresses': { senders: [], groups: [], postalAddress: 'Sintra' },
      '/api/notices': [NOTICE],
      '/api/users': PEOPLE,
      '/api/labels': [],
      '/api/segments': [],
      '/api/keys': [KEY],
      '/api/shop-rules': { ...RULES, hookSecret: null, holdoutSince: null },
      '/api/retention': { visits: 365 },
      ...answers,
    },
    { address: '/settings', role },
  )
  await screen.findByText('Order confirmation')
  const sent = () => asked.filter(({ method }) => method !== 'GET')
  return { asked, sent }
}

describe('the rules for marketing', () => {
  /** A server that keeps what it is sent, as slow as `wait`. */
  async function rules(wait: () => Promise<void> = async () => {}) {
    const server = { rules: RULES }
    const page = await open({
      'GET /api/shop-rules': () => ({
        ...server.rules,
        hookSecret: 'whsec_1',
        holdoutSince: server.rules.holdoutPercent ? 0 : null,
      }),
      'PUT /api/shop-rules': async (body: unknown) => {
        const parsed = shopRules.safeParse(body)
        await wait()
        if (!parsed.success) {
          const [issue] = parsed.error.issues
          return refused(issue?.message ?? '', issue?.path.join('.'))
        }
        server.rules = parsed.data
        return done()
      },
    })
    await screen.findByLabelText('From')
    return { ...page, server }
  }
  const type = async (label: string, value: string) => {
    const field = screen.getByLabelText(label)
    await userEvent.click(field)
    fireEvent.change(field, { target: { value } })
    await userEvent.tab()
  }

  test('a gap and quiet hours are chosen, and taken away', async () => {
    const { server } = await rules()
    const gap = screen.getByLabelText('Least time between two, to one person')
    fireEvent.change(gap, { target: { value: 'P3D' } })
    await waitFor(() => expect(server.rules.messageGap).toBe('P3D'))
    fireEvent.change(gap, { target: { value: 'none' } })
    await waitFor(() => expect(server.rules.messageGap).toBeNull())
    const quiet = screen.getByLabelText('Quiet hours where the recipient lives')
    fireEvent.click(quiet)
    await waitFor(() => expect(server.rules.quietHours).toBeNull())
    fireEvent.click(quiet)
    await waitFor(() => expect(server.rules.quietHours).toEqual({ from: '21:00', to: '08:00' }))
    expect(screen.getByText('whsec_1')).toBeDefined()
  })

  test('both ends of the quiet hours are kept, however slow the server is', async () => {
    const held: (() => void)[] = []
    const { server } = await rules(() => new Promise((resolve) => held.push(resolve)))
    await type('From', '22:30')
    await type('To', '07:15')
    await waitFor(() => expect(held).toHaveLength(2))
    for (const go of held) go()
    await waitFor(() => expect(server.rules.quietHours).toEqual({ from: '22:30', to: '07:15' }))
  })

  test('what is not saved is said for as long as it stands there', async () => {
    const { server, sent } = await rules()
    await type('From', '08:00')
    expect((await screen.findByRole('alert')).textContent).toBe(
      'What is typed here is not saved. This cannot be saved.Quiet hours must not begin when they end',
    )
    expect(server.rules).toEqual(RULES)
    await type('From', '20:00')
    await waitFor(() => expect(server.rules.quietHours?.from).toBe('20:00'))
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull())
    // Who only looks into a field changes nothing.
    await type('To', '08:00')
    expect(sent()).toHaveLength(2)
  })

  test('a cap counts once its number is left, and is taken away', async () => {
    const { server } = await rules()
    fireEvent.click(screen.getByRole('button', { name: 'limit' }))
    await waitFor(() => expect(server.rules.caps).toEqual([{ channel: 'all', most: 3, days: 7 }]))
    await type('How many', '2')
    await waitFor(() => expect(server.rules.caps?.[0]?.most).toBe(2))
    fireEvent.change(screen.getByLabelText('By which way'), { target: { value: 'sms' } })
    await waitFor(() => expect(server.rules.caps?.[0]?.channel).toBe('sms'))
    fireEvent.click(screen.getByRole('button', { name: 'Remove this limit' }))
    await waitFor(() => expect(server.rules.caps).toEqual([]))
  })

  test('a holdout begins at once and is ended only on purpose', async () => {
    const { server, sent } = await rules()
    const held = () => screen.findByLabelText('Held out, to see what marketing causes')
    fireEvent.change(await held(), { target: { value: '5' } })
    await waitFor(() => expect(server.rules.holdoutPercent).toBe(5))
    expect(await screen.findByText(/^Held out since/)).toBeDefined()
    fireEvent.change(await held(), { target: { value: '20' } })
    fireEvent.click(await screen.findByRole('button', { name: 'Keep it' }))
    expect(await held()).toHaveProperty('value', '5')
    expect(sent()).toHaveLength(1)
    fireEvent.change(await held(), { target: { value: 'none' } })
    fireEvent.click(await screen.findByRole('button', { name: 'Change it' }))
    await waitFor(() => expect(server.rules.holdoutPercent).toBeNull())
  })

  test('where staff look at an order is kept, or taken away', async () => {
    const { server } = await rules()
    const field = 'Where staff look at an order, for links in notes'
    await type(field, 'https://admin.shop.example/orders/{id}')
    await waitFor(() =>
      expect(server.rules.backOfficeUrl).toBe('https://admin.shop.example/orders/{id}'),
    )
    await type(field, '')
    await waitFor(() => expect(server.rules.backOfficeUrl).toBeNull())
  })
})

describe("the shop's own notices", () => {
  const row = (label: string) =>
    within(screen.getByRole('cell', { name: label }).closest('tr') as HTMLElement)

  test('a workflow takes one over, and gives it back', async () => {
    const { sent } = await open({
      '/api/notices': [NOTICE, { ...NOTICE, key: 'refund', label: 'Refund', takenBy: 'w1' }],
      'PUT /api/notices/order-confirmation': done,
      'PUT /api/notices/refund': done,
    })
    fireEvent.change(screen.getByLabelText('Who sends: Order confirmation'), {
      target: { value: 'w1' },
    })
    fireEvent.click(screen.getByRole('button', { name: 'Back to the shop: Refund' }))
    await waitFor(() =>
      expect(sent().map(({ path, body }) => [path, body])).toEqual([
        ['/api/notices/order-confirmation', { takenBy: 'w1' }],
        ['/api/notices/refund', { takenBy: null }],
      ]),
    )
  })

  test('what nobody or two would send is said', async () => {
    await open({
      '/api/notices': [
        { ...NOTICE, label: 'Twice', key: 'a', trouble: 'both' },
        { ...NOTICE, label: 'Not at all', key: 'b', takenBy: 'gone', trouble: 'neither' },
        { ...NOTICE, label: 'Order confirmation', key: 'c', candidates: [] },
      ],
    })
    expect(row('Twice').getByText(/the customer gets it twice/)).toBeDefined()
    expect(row('Not at all').getByText(/the shop sends it meanwhile/)).toBeDefined()
    expect(row('Not at all').getByRole<HTMLSelectElement>('combobox').selectedOptions[0]?.text).toBe(
      'a workflow that does not send it',
    ) // prettier-ignore
    expect(row('Order confirmation').getByText('the shop')).toBeDefined()
  })
})

describe('keys for programs', () => {
  const keys = () => within(screen.getByRole('region', { name: 'Keys for programs' }))

  test('a key is made, and shown once', async () => {
    const { sent } = await open({
      'POST /api/keys': { ...KEY, id: 'k2', name: 'till', key: 'yk_secret' },
    })
    await userEvent.type(keys().getByLabelText('Name of the new key'), 'till')
    fireEvent.click(keys().getByRole('checkbox', { name: /^Read/ }))
    fireEvent.click(keys().getByRole('button', { name: 'Make a key' }))
    expect((await screen.findByTestId('new-key')).textContent).toBe('yk_secret')
    expect(sent()[0]?.body).toEqual({ name: 'till', scopes: ['events', 'read'] })
    expect(keys().getByLabelText<HTMLInputElement>('Name of the new key').value).toBe('')
  })

  test('one without a name is not asked for: what is wrong stands below the field, and goes', async () => {
    const { sent } = await open()
    await userEvent.click(screen.getByRole('button', { name: 'Make a key' }))
    const field = screen.getByLabelText('Name of the new key')
    expect(await screen.findByText('Give the key a name.')).toBeTruthy()
    expect(document.activeElement).toBe(field)
    expect(field.getAttribute('aria-invalid')).toBe('true')
    await userEvent.type(field, 'a'.repeat(81))
    await screen.findByText('It is longer than 80 characters.')
    await userEvent.type(field, '{Backspace}')
    await waitFor(() => expect(field.getAttribute('aria-invalid')).toBe(null))
    expect(sent()).toEqual([])
  })
  test('a key is revoked after one has read what follows', async () => {
    const { sent } = await open({ 'DELETE /api/keys/k1': done })
    expect(await keys().findByText('never')).toBeDefined()
    fireEvent.click(keys().getByRole('button', { name: 'Revoke web shop' }))
    const asks = screen.getByRole('alertdialog', { name: 'Revoke the key' })
    expect(asks.textContent).toMatch(/can do nothing more/)
    expect(sent()).toEqual([])
    fireEvent.click(within(asks).getByRole('button', { name: 'Revoke the key' }))
    await waitFor(() => expect(sent()[0]).toMatchObject({ method: 'DELETE', path: '/api/keys/k1' }))
  })
})

test('staff sees who sends what, and changes nothing', async () => {
  const { asked } = await open({}, 'staff')
  expect(screen.getByText('Only marketers can change settings.')).toBeDefined()
  expect(screen.getByLabelText('Who sends: Order confirmation').matches(':disabled')).toBe(true)
  expect(asked.map(({ path }) => path)).toEqual(['/api/notices'])
})

test('how long things are kept is chosen for each kind', async () => {
  const { sent } = await open({ 'PUT /api/retention': () => done() })
  const visits = await screen.findByLabelText('What people looked at, opened and clicked')
  expect(visits).toHaveProperty('value', '365')
  fireEvent.change(visits, { target: { value: '' } })
  await waitFor(() => expect(sent()).toMatchObject([{ body: { visits: null } }]))
})

test('what is set of the shop itself is changed by owners, checked before it is sent', async () => {
  const { sent } = await open({ 'PUT /api/shop': done })
  const panel = within(await screen.findByRole('region', { name: 'The shop' }))
  const zone = await panel.findByLabelText('Time zone')
  fireEvent.change(zone, { target: { value: 'Moon/Tycho' } })
  fireEvent.click(panel.getByRole('button', { name: 'Save' }))
  expect(await panel.findByText(/Choose a time zone/)).toBeDefined()
  fireEvent.change(zone, { target: { value: 'Europe/Lisbon' } })
  fireEvent.click(panel.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent().at(-1)?.body).toEqual({ ...SHOP_FACTS, zone: 'Europe/Lisbon' }))
})

describe('who works here', () => {
  test('owners invite, give another role, remove', async () => {
    const { sent } = await open({
      'POST /api/users': done,
      'PUT /api/users/t/role': done,
      'DELETE /api/users/t': done,
      'POST /api/users/t/invitation': done,
    })
    const panel = within(await screen.findByRole('region', { name: 'Who works here' }))
    fireEvent.change(await panel.findByLabelText('What Tiago may do'), { target: { value: 'staff' } }) // prettier-ignore
    await userEvent.click(panel.getByRole('button', { name: 'Invite again' }))
    await userEvent.click(panel.getByRole('button', { name: 'Invite' }))
    expect(await panel.findByText('Enter a name.')).toBeDefined()
    await userEvent.type(panel.getByLabelText('Name'), 'Inês')
    await userEvent.type(panel.getByLabelText('Email address'), 'ines@combwright.example')
    await userEvent.click(panel.getByRole('button', { name: 'Invite' }))
    await waitFor(() => expect(sent()).toHaveLength(3))
    expect(sent().map(({ method, path, body }) => [method, path, body])).toEqual([
      ['PUT', '/api/users/t/role', { role: 'staff' }],
      ['POST', '/api/users/t/invitation', undefined],
      ['POST', '/api/users', { name: 'Inês', email: 'ines@combwright.example', role: 'marketer' }],
    ])
  })

  test('marketers see who may what, and change nothing of it', async () => {
    await open({}, 'marketer')
    const panel = within(await screen.findByRole('region', { name: 'Who works here' }))
    expect(await panel.findByText('Tiago')).toBeDefined()
    expect(panel.queryByRole('button')).toBeNull()
    expect(screen.queryByRole('region', { name: 'Keys for programs' })).toBeNull()
  })
})
