import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
import { expect, test } from 'vitest'
import { done, show } from '../testing/screen.tsx'
import { BeginningPage } from './BeginningPage.tsx'
import { SignIn } from './SignIn.tsx'

const open = (address: string, isEmpty: boolean) =>
  show(
    <Routes>
      <Route path="/begin" element={<BeginningPage />} />
      <Route path="/begin/:token" element={<BeginningPage />} />
      <Route path="/sign-in" element={<SignIn />} />
      <Route path="/first-steps" element={<p>The first steps</p>} />
    </Routes>,
    { '/api/beginning': { isEmpty }, 'POST /api/beginning': done },
    { address },
  )

test('where nobody is yet, the sign-in leads to how one begins', async () => {
  open('/sign-in', true)
  expect(await screen.findByText('yomble begin')).toBeDefined()
})

test('where somebody is, the link leads to the sign-in', async () => {
  open('/begin/old', false)
  expect(await screen.findByRole('link', { name: 'Sign in' })).toBeDefined()
})

test('first the owner, then the shop: what was typed is sent together, and kept on the way back', async () => {
  const asked = open('/begin/right', true)
  await userEvent.type(await screen.findByLabelText('Your name'), 'Inês')
  await userEvent.type(screen.getByLabelText('Email address'), 'ines@apiary.example')
  await userEvent.type(screen.getByLabelText(/^Password/), 'short')
  await userEvent.click(screen.getByRole('button', { name: 'On to the shop' }))
  expect(await screen.findByText(/at least 12 characters; several words/)).toBeDefined()
  await userEvent.type(screen.getByLabelText(/^Password/), ' no more, and long')
  await userEvent.click(screen.getByRole('button', { name: 'On to the shop' }))
  await userEvent.click(await screen.findByRole('button', { name: 'Back' }))
  expect(await screen.findByDisplayValue('ines@apiary.example')).toBeDefined()
  await userEvent.click(screen.getByRole('button', { name: 'On to the shop' }))
  await userEvent.type(await screen.findByLabelText('Name of the shop'), 'Abelhas & Mel São João')
  expect(screen.getByDisplayValue('abelhas-mel-sao-joao')).toBeDefined()
  await userEvent.click(screen.getByRole('button', { name: 'Begin' }))
  expect(await screen.findByText('The first steps')).toBeDefined()
  await waitFor(() => expect(asked.find(({ method }) => method === 'POST')?.body).toMatchObject({ token: 'right', owner: { password: 'short no more, and long' }, shop: { id: 'abelhas-mel-sao-joao', sender: 'ines@apiary.example' } })) // prettier-ignore
})
