import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, test } from 'vitest'
import type { ArchiveReport } from '../../contract/archives.ts'
import { EXPORT_WORDS } from '../../contract/exports.ts'
import { refusal, show } from '../testing/screen.tsx'
import { ImportsPage } from './ImportsPage.tsx'

const REPORT: ArchiveReport = {
  from: 'Combwright',
  workflows: [
    { id: 'w1', name: 'Care guide', remarks: ['It sends from a@b.example, which is no sender here.'] },
    { id: 'w2', name: 'Review request', remarks: [] },
  ],
  pictures: 2,
  documents: 0,
  kept: 1,
  designs: 0,
  hasBrand: true,
  brand: false,
  remarks: [],
} // prettier-ignore

const open = (answers: Readonly<Record<string, unknown>> = {}) =>
  show(
    <ImportsPage />,
    {
      '/api/imports': [],
      '/api/calendar': { address: 'https://yomble.example/v1/calendar/x' },
      '/api/clock': { now: 0, movedByHand: true, target: null },
      ...answers,
    },
    { address: '/people/files' },
  )
const zip = new File(['PK'], 'workflows.zip', { type: 'application/zip' })

test('everything can be taken out, as either kind of file', async () => {
  open()
  expect(await screen.findByDisplayValue('https://yomble.example/v1/calendar/x')).toBeDefined()
  for (const { name } of Object.values(EXPORT_WORDS)) {
    expect(screen.getByRole('link', { name: `${name} as CSV` }).getAttribute('href')).toMatch(/^\/api\/exports\/\w+\?format=csv$/) // prettier-ignore
    expect(screen.getByRole('link', { name: `${name} as JSON Lines` })).toBeDefined()
  }
})

test('an archive is brought in once one has seen what would come of it', async () => {
  const asked = open({ 'POST /api/archive': REPORT })
  await userEvent.upload(await screen.findByLabelText('Bring in workflows'), zip)
  expect(await screen.findByText('It sends from a@b.example, which is no sender here.')).toBeDefined() // prettier-ignore
  expect(asked.filter(({ method }) => method === 'POST').map(({ path }) => path)).toEqual(['/api/archive?dry=yes']) // prettier-ignore
  fireEvent.click(screen.getByRole('checkbox', { name: /The brand too/ }))
  fireEvent.click(screen.getByRole('button', { name: 'Bring them in' }))
  await waitFor(() => expect(asked.filter(({ method }) => method === 'POST').at(-1)?.path).toBe('/api/archive?brand=yes')) // prettier-ignore
  expect((await screen.findByRole('link', { name: 'Care guide' })).getAttribute('href')).toBe('/workflows/w1') // prettier-ignore
})

test('what is no archive is said, and nothing is brought in', async () => {
  const asked = open({ 'POST /api/archive': refusal(400, 'This is no ZIP file, or it is broken.') })
  await userEvent.upload(await screen.findByLabelText('Bring in workflows'), zip)
  expect(await screen.findByText('This is no ZIP file, or it is broken.')).toBeDefined()
  expect(screen.queryByRole('button', { name: 'Bring them in' })).toBeNull()
  expect(asked.filter(({ path }) => path.includes('brand'))).toEqual([])
})
