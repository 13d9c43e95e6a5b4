import { screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { StatusResponse } from '../../contract/status.ts'
import { show } from '../testing/screen.tsx'
import { StatusPage } from './StatusPage.tsx'

const WELL: StatusResponse = {
  alerts: [],
  work: { workers: 2, jobs: 0, queueAgeS: 0, dueLagS: 0 },
  messages: { waiting: 0, held: 4, failed: 0, unsure: 0, lastSentAt: Date.UTC(2026, 3, 14, 9) },
  installation: { backupAt: null, tables: [{ table: 'result_days', rows: 12_000, bytes: 4_200_000 }] },
} // prettier-ignore
const figure = (name: string) => screen.getByText(name).nextSibling?.textContent

test('where all is well, that is said; what was never backed up, too', async () => {
  show(<StatusPage />, { '/api/status': WELL })
  expect(await screen.findByText(/Everything is as it was/)).toBeDefined()
  expect([figure('Workers'), figure('Held back until later'), figure('The oldest waits for')]).toEqual(['2', '4', 'not at all']) // prettier-ignore
  expect(screen.getByText(/never backed up/)).toBeDefined()
  expect(within(screen.getByRole('row', { name: /result days/ })).getByText('4 MB')).toBeDefined()
})

test('what is not as it was leads to where it is seen to; marketers see nothing of the installation', async () => {
  const says = '3 messages cannot leave, the oldest for 45 minutes.'
  show(<StatusPage />, {
    '/api/status': {
      ...WELL,
      alerts: [{ code: 'connectionSilent', about: 'c', says, to: '/settings/connections/c', since: 0 }], // prettier-ignore
      work: { workers: 0, jobs: 7, queueAgeS: 2700, dueLagS: 30 },
      installation: null,
    },
  })
  expect((await screen.findByRole('link', { name: says })).getAttribute('href')).toBe('/settings/connections/c') // prettier-ignore
  expect([figure('Workers'), figure('The oldest waits for'), figure('What is due is late by')]).toEqual(['none: nothing is sent', '45 minutes', '30 seconds']) // prettier-ignore
  expect(screen.queryByRole('region', { name: 'Installation' })).toBeNull()
})
