import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test } from 'vitest'
import type { AuditEntry } from '../../../contract/audit.ts'
import { show } from '../../testing/screen.tsx'
import { AuditPage } from './AuditPage.tsx'

const entry = (id: number, over: Partial<AuditEntry> = {}): AuditEntry => ({
  id,
  at: 0,
  userId: 'm',
  person: 'Maren',
  operation: 'PUT /api/shop-rules',
  did: 'Changed the rules of the shop',
  about: {},
  before: { messageGap: 'PT20H' },
  after: { messageGap: 'P3D' },
  ...over,
})

test('what was changed stands there with what stood before, page by page, and is searched', async () => {
  const asked = show(<AuditPage />, {
    '/api/audit?search=&before=9': { entries: [entry(8, { did: 'Revoked a key', about: { id: 'k1' }, before: { name: 'Web shop' }, after: null })], more: false },
    '/api/audit': { entries: [entry(9)], more: true },
  })
  expect((await screen.findByText(/changed the rules of the shop/)).textContent).toContain('Maren')
  expect([screen.getByText('PT20H').tagName, screen.getByText('P3D').tagName]).toEqual(['DEL', 'INS'])
  await userEvent.click(screen.getByRole('button', { name: 'Show earlier ones' }))
  await waitFor(() => expect(asked.at(-1)?.path).toContain('before=9'))
  await userEvent.type(screen.getByLabelText('Search changes'), 'gap')
  await waitFor(() => expect(asked.at(-1)?.path).toContain('search=gap'))
}) // prettier-ignore

test('nothing changed yet, nothing found, and no look for marketers', async () => {
  show(<AuditPage />, { '/api/audit': { entries: [], more: false } })
  expect(await screen.findByText('Nothing was changed yet.')).toBeDefined()
  await userEvent.type(screen.getByLabelText('Search changes'), 'x')
  expect(await screen.findByText('No change like that.')).toBeDefined()
})

test('marketers do not look at changes', () => {
  const asked = show(<AuditPage />, {}, { role: 'marketer' })
  expect(screen.getByText('Owners look at changes.')).toBeDefined()
  expect(asked).toEqual([])
})
