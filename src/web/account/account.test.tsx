import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { describe, expect, test } from 'vitest'
import { SignIn } from './SignIn.tsx'
import { done, refusal, show } from '../testing/screen.tsx'
import { AccountPage } from './AccountPage.tsx'
import { passkeyWords } from './passkeyWords.ts'
import { agentWords } from './agentWords.ts'
import { PasswordPage } from './PasswordPage.tsx'

const FIREFOX = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
const SESSIONS = [
  { id: 'one', startedAt: 0, agent: FIREFOX, isThis: true },
  { id: 'two', startedAt: 0, agent: '', isThis: false },
]
const changing = (asked: readonly { method: string; path: string; body: unknown }[]) =>
  asked.filter(({ method }) => method !== 'GET')

describe('one’s own account', () => {
  test('a password is changed; what is wrong with it is said', async () => {
    const refused = refusal(400, 'The password was not changed.', {
      current: 'That is not your password.',
    })
    const asked = show(<AccountPage />, { '/api/account/sessions': SESSIONS, 'PUT /api/account/password': refused }) // prettier-ignore
    const panel = within(await screen.findByRole('region', { name: 'Password' }))
    await userEvent.click(panel.getByRole('button', { name: 'Change it' }))
    expect(await panel.findByText('Enter your present password.')).toBeDefined()
    expect(changing(asked)).toEqual([])
    await userEvent.type(panel.getByLabelText('Present password'), 'what it was')
    await userEvent.type(panel.getByLabelText(/^New password/), 'four lazy drones hum')
    await userEvent.click(panel.getByRole('button', { name: 'Change it' }))
    expect((await panel.findByRole('alert')).textContent).toContain('That is not your password.')
  })

  test('sessions are named as people know them, and ended', async () => {
    const asked = show(<AccountPage />, {
      '/api/account/sessions': SESSIONS,
      'DELETE /api/account/sessions/two': done,
      'DELETE /api/account/sessions': done,
    })
    expect(await screen.findByText('Firefox on Linux')).toBeDefined()
    await userEvent.click(screen.getByRole('button', { name: 'Sign out there' }))
    await userEvent.click(screen.getByRole('button', { name: 'Sign out everywhere else' }))
    await waitFor(() =>
      expect(changing(asked).map(({ path }) => path)).toEqual([
        '/api/account/sessions/two',
        '/api/account/sessions',
      ]),
    )
  })

  test('a second factor is set up; the codes for a lost device stand there until one has them', async () => {
    show(<AccountPage />, {
      '/api/account/sessions': SESSIONS,
      'GET /api/account/second-factor': { secret: 'JBSWY3DPEHPK3PXP', uri: 'otpauth://totp/Yomble:m?secret=JBSWY3DPEHPK3PXP' }, // prettier-ignore
      'PUT /api/account/second-factor': { codes: ['abcdefghjk', 'mnpqrstuvw'] },
    })
    const panel = within(await screen.findByRole('region', { name: 'Second factor' }))
    await userEvent.click(panel.getByRole('button', { name: 'Set it up …' }))
    expect(await panel.findByText('JBSW Y3DP EHPK 3PXP')).toBeDefined()
    await userEvent.type(panel.getByLabelText('Code that it shows'), '123456')
    await userEvent.click(panel.getByRole('button', { name: 'Turn it on' }))
    expect(await panel.findByText('mnpqrstuvw')).toBeDefined()
    await userEvent.click(panel.getByRole('button', { name: 'I have them' }))
    expect(panel.queryByText('mnpqrstuvw')).toBeNull()
  })
})

describe('passkeys', () => {
  const PASSKEY = { id: 'p1', name: 'Blue key', createdAt: 1, lastUsedAt: null }
  const panel = async () => within(await screen.findByRole('region', { name: 'Passkeys' }))

  test('stand there by name, and are removed', async () => {
    const asked = show(<AccountPage />, {
      '/api/account/sessions': SESSIONS,
      'GET /api/account/passkeys': [PASSKEY],
      'DELETE /api/account/passkeys/p1': done,
    })
    const there = await panel()
    expect(await there.findByText('not used yet')).toBeDefined()
    await userEvent.click(there.getByRole('button', { name: 'Remove Blue key' }))
    await waitFor(() => expect(changing(asked).map(({ path }) => path)).toEqual(['/api/account/passkeys/p1'])) // prettier-ignore
  })

  test('a browser that can make none says so', async () => {
    show(<AccountPage />, { '/api/account/sessions': SESSIONS, 'GET /api/account/passkeys': [] })
    const there = await panel()
    await userEvent.click(await there.findByRole('button', { name: 'Add a passkey …' }))
    expect(there.getByRole('status').textContent).toContain('This browser can make none here')
  })

  test.each([
    ['NotAllowedError', 'Nothing came from the device.'],
    ['InvalidStateError', 'has a passkey for your account already'],
    ['SecurityError', 'only at the address that Yomble is installed for'],
    ['OddError', 'The browser did not do it: why not'],
  ])('%s is told in words', (name, words) => {
    expect(passkeyWords(Object.assign(new Error('why not'), { name }))).toContain(words)
  })
})

test('what is typed into a field for a password can be seen', async () => {
  show(<SignIn />, {})
  const field = screen.getByLabelText('Password')
  expect(field).toHaveProperty('type', 'password')
  await userEvent.click(screen.getByRole('button', { name: 'Show what is typed' }))
  expect(field).toHaveProperty('type', 'text')
  await userEvent.click(screen.getByRole('button', { name: 'Hide what is typed' }))
  expect(field).toHaveProperty('type', 'password')
})

describe('who cannot sign in', () => {
  test('is asked for a code once their password was right', async () => {
    const answers = [
      refusal(401, 'Enter the code that your device shows.', { code: 'is missing' }),
      refusal(401, 'This code is not right.', { code: 'is not right' }),
    ]
    const asked = show(<SignIn />, { 'POST /api/session': () => answers.shift() ?? done() })
    await userEvent.type(screen.getByLabelText('Email address'), 'maren@combwright.example')
    await userEvent.type(screen.getByLabelText('Password'), 'first inspection day')
    expect(screen.queryByLabelText(/^Code/)).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
    const code = await screen.findByLabelText(/^Code that your device shows/)
    expect(screen.queryByRole('alert')).toBeNull()
    await userEvent.type(code, '111111')
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
    expect((await screen.findByRole('alert')).textContent).toContain('This code is not right.')
    expect(changing(asked).at(-1)?.body).toMatchObject({ code: '111111' })
  })

  const page = (
    <Routes>
      <Route path="/password" element={<PasswordPage />} />
      <Route path="/password/:token" element={<PasswordPage />} />
      <Route path="/today" element={<p>Today</p>} />
    </Routes>
  )

  test('asks for a link, and learns nothing of whether the address is known', async () => {
    show(page, { 'POST /api/password-links': done }, { address: '/password' })
    await userEvent.type(screen.getByLabelText('Email address'), 'somebody@shop.example')
    await userEvent.click(screen.getByRole('button', { name: 'Send me a link' }))
    expect((await screen.findByRole('status')).textContent).toContain('If somebody@shop.example has an account') // prettier-ignore
  })

  test('chooses a password by a link, and is in', async () => {
    const asked = show(
      page,
      {
        'GET /api/password-links/abc': { kind: 'invitation', email: 'ines@shop.example', name: 'Inês' }, // prettier-ignore
        'POST /api/password-links/abc': done,
        'POST /api/session': done,
      },
      { address: '/password/abc' },
    )
    expect(await screen.findByText('Welcome, Inês')).toBeDefined()
    await userEvent.type(screen.getByLabelText(/^New password/), 'four lazy drones hum')
    await userEvent.click(screen.getByRole('button', { name: 'Choose it and sign in' }))
    expect(await screen.findByText('Today')).toBeDefined()
    expect(changing(asked).map(({ path }) => path)).toEqual(['/api/password-links/abc', '/api/session']) // prettier-ignore
  })

  test('is told of a link that works no more, and how to get another', async () => {
    show(page, { 'GET /api/password-links/old': refusal(404, 'This link was used, or is too old. Ask for a new one.', {}) }, { address: '/password/old' }) // prettier-ignore
    expect(await screen.findByText('This link does not work')).toBeDefined()
    expect(screen.getByRole('link', { name: 'Ask for a new one' })).toBeDefined()
  })
})

test.each([
  [FIREFOX, 'Firefox on Linux'],
  ['Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) AppleWebKit/605.1.15 Version/17.0 Mobile Safari/604.1', 'Safari on iOS'],
  ['Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 Chrome/140.0.0.0 Safari/537.36 Edg/140.0.0.0', 'Edge on Windows'],
  ['curl/8.5.0', 'curl/8.5.0'],
  ['', 'An unknown browser'],
])('%s is “%s”', (agent, words) => {
  expect(agentWords(agent)).toBe(words)
}) // prettier-ignore
