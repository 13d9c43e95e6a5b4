import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import { done, refusal, show } from '../../testing/screen.tsx'
import { SenderStanding } from './SenderStanding.tsx'
import { Senders } from './Senders.tsx'
import { StaffGroups } from './StaffGroups.tsx'

const BOOK = {
  postalAddress: 'Rua das Colmeias 12, Sintra',
  senders: [
    { name: 'Combwright', address: 'hello@combwright.example', verified: true },
    { name: 'Maren', address: 'maren@combwright.example', verified: true },
    { name: 'Swarm desk', address: 'swarm@combwright.example', verified: false },
  ],
  groups: [{ key: 'care', name: 'Care team', addresses: ['tiago@combwright.example'] }],
}
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

test('a sender is added, and asked for once more', async () => {
  const asked = show(<Senders />, { '/api/addresses': BOOK, 'POST /api/senders': done })
  await screen.findByText('swarm@combwright.example')
  await userEvent.type(screen.getByLabelText('Name of the new sender'), 'Aoife')
  await userEvent.type(screen.getByLabelText('Address of the new sender'), 'aoife@combwright.example') // prettier-ignore
  press('Add a sender')
  expect(await screen.findByText('We have written to aoife@combwright.example.')).toBeDefined()
  expect(screen.getByLabelText<HTMLInputElement>('Name of the new sender').value).toBe('')
  press('Write again')
  expect(await screen.findByText(/written to swarm@combwright.example again/)).toBeDefined()
  expect(asked.filter(({ method }) => method === 'POST').map(({ body }) => body)).toEqual([
    { name: 'Aoife', address: 'aoife@combwright.example' },
    expect.objectContaining({ address: 'swarm@combwright.example' }),
  ])
})

test('what is in the way of a new sender is said, and what was typed stays', async () => {
  const refused = () => refusal(400, 'This cannot be saved.', { address: 'is there already' })
  show(<Senders />, { '/api/addresses': BOOK, 'POST /api/senders': refused })
  await userEvent.type(screen.getByLabelText('Name of the new sender'), 'Maren')
  await userEvent.type(screen.getByLabelText('Address of the new sender'), 'maren@combwright.example') // prettier-ignore
  press('Add a sender')
  expect(await screen.findByText(/is there already/)).toBeDefined()
  expect(screen.getByLabelText<HTMLInputElement>('Name of the new sender').value).toBe('Maren')
})

test('the shop’s own sender stays; another goes once its consequence was read', async () => {
  const path = `/api/senders/${encodeURIComponent('maren@combwright.example')}`
  const asked = show(<Senders />, { '/api/addresses': BOOK, [`DELETE ${path}`]: done })
  await screen.findByText('maren@combwright.example')
  expect(screen.queryByRole('button', { name: 'Remove hello@combwright.example' })).toBeNull()
  press('Remove maren@combwright.example')
  const dialog = screen.getByRole('alertdialog', { name: 'Remove the sender' })
  expect(dialog.textContent).toContain('Workflows that send from it go on')
  expect(asked.every(({ method }) => method === 'GET')).toBe(true)
  fireEvent.click(within(dialog).getByRole('button', { name: 'Remove the sender' }))
  await waitFor(() => expect(asked).toContainEqual(expect.objectContaining({ method: 'DELETE', path }))) // prettier-ignore
})

test('the addresses of a group are read however they are parted, and saved when they differ', async () => {
  const asked = show(<StaffGroups />, { '/api/addresses': BOOK, 'PUT /api/staff-groups/care': done }) // prettier-ignore
  const box = await screen.findByLabelText('Addresses of Care team')
  fireEvent.blur(box)
  expect(asked.some(({ method }) => method === 'PUT')).toBe(false)
  fireEvent.change(box, { target: { value: 'tiago@combwright.example; a@x.example,\n b@x.example ' } }) // prettier-ignore
  fireEvent.blur(box)
  await waitFor(() =>
    expect(asked).toContainEqual({
      method: 'PUT',
      path: '/api/staff-groups/care',
      body: { name: 'Care team', addresses: ['tiago@combwright.example', 'a@x.example', 'b@x.example'] },
    }),
  ) // prettier-ignore
})

test('a group that goes leaves the keyboard on the one before it', async () => {
  const book = { ...BOOK, groups: ['first', 'second'].map((key) => ({ key, name: key, addresses: [] })) } // prettier-ignore
  show(<StaffGroups />, {
    '/api/addresses': () => book,
    'DELETE /api/staff-groups/second': () => {
      book.groups.pop()
      return done()
    },
  })
  const remove = await screen.findByRole('button', { name: 'Remove second' })
  remove.focus()
  fireEvent.click(remove)
  press('Remove the group')
  await waitFor(() => expect(screen.queryByLabelText('Addresses of second')).toBeNull())
  expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Remove first' }))
})

test('a group is made with a key of its own', async () => {
  const asked = show(<StaffGroups />, { '/api/addresses': { ...BOOK, groups: [] } })
  expect(await screen.findByText('No groups yet.')).toBeDefined()
  await userEvent.type(screen.getByLabelText('Name of the new group'), 'Founder')
  press('Make a group')
  await waitFor(() => expect(asked.some(({ method }) => method === 'PUT')).toBe(true))
  const put = asked.find(({ method }) => method === 'PUT')
  expect(put?.path).toMatch(/^\/api\/staff-groups\/g[\da-z]+$/)
  expect(put?.body).toEqual({ name: 'Founder', addresses: [] })
})

describe('what receivers find', () => {
  const standing = { kind: 'spf', state: 'good', says: 'All is well.', found: ['v=spf1 mx -all'], record: null } as const // prettier-ignore
  const missing = { kind: 'dmarc', state: 'missing', says: 'Nothing says what becomes of fakes.', found: [], record: { name: '_dmarc.combwright.example', type: 'TXT', value: 'v=DMARC1; p=none' } } as const // prettier-ignore

  test('is said of each domain, with what to enter, and looked up again when asked', async () => {
    const asked = show(<SenderStanding />, {
      '/api/senders/standing': { domains: [{ domain: 'combwright.example', senders: ['hello@combwright.example'], standings: [standing, missing] }] }, // prettier-ignore
    })
    const domain = within(await screen.findByRole('article', { name: 'combwright.example' }))
    expect(domain.getByText('Who may send').parentElement?.textContent).toContain('(SPF): in order')
    expect(domain.getByText('What becomes of fakes').parentElement?.textContent).toContain('(DMARC): missing') // prettier-ignore
    expect(domain.getByText('v=DMARC1; p=none')).toBeDefined()
    await userEvent.click(screen.getByRole('button', { name: 'Look again' }))
    await waitFor(() => expect(asked).toHaveLength(2))
  })
})
