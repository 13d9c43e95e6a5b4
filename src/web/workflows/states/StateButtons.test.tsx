import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import type { WorkflowNumbersResponse, WorkflowResponse } from '../../../contract/workflows.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition } from '../../../testing/builders.ts'
import { done, refusal, show, type Answers } from '../../testing/screen.tsx'
import { StateButtons } from './StateButtons.tsx'

const LIVE = aDefinition({ name: 'Thanks' })
const CHANGED = aDefinition({ name: 'Thanks again' })

function buttons(
  over: Partial<WorkflowResponse>,
  { draft = LIVE, inProgress = 3, onOlderVersions = 0 }: { draft?: Definition; inProgress?: number; onOlderVersions?: number } = {},
  answers: Answers = {},
) {
  const workflow = { id: 'w', state: 'live', live: LIVE, liveVersion: 1, ...over } as WorkflowResponse
  const numbers = { total: { inProgress }, onOlderVersions } as WorkflowNumbersResponse
  return show(<StateButtons workflow={workflow} definition={draft} flush={async () => 7} numbers={numbers} />, answers)
} // prettier-ignore

const button = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name })
const confirm = (name: string) => {
  const dialog = screen.getByRole('alertdialog', { name })
  fireEvent.click(dialog.querySelector('[data-confirm]') as Element)
}

describe('going live', () => {
  test('what is live is published again only when it differs', () => {
    buttons({})
    expect(button('Publish changes').disabled).toBe(true)
  })

  test('what was saved last is published, and says its version', async () => {
    const asked = buttons({}, { draft: CHANGED }, { 'POST /api/workflows/w/go-live': { version: 2 } }) // prettier-ignore
    fireEvent.click(button('Publish changes'))
    expect(await screen.findByText('Version 2 is live.')).toBeDefined()
    expect(asked[0]).toEqual({ method: 'POST', path: '/api/workflows/w/go-live', body: { revision: 7, includeToday: false } }) // prettier-ignore
  })

  test('a paused one is published without being resumed', async () => {
    buttons({ state: 'paused' }, { draft: CHANGED }, {
      '/api/workflows/w/overdue': { overdue: 4, leaving: 2, oldestAt: 0 },
      'POST /api/workflows/w/go-live': { version: 2 },
    }) // prettier-ignore
    fireEvent.click(button('Publish changes'))
    expect(await screen.findByText('Version 2 is published; the workflow is still paused.')).toBeDefined() // prettier-ignore
  })

  test('a retired one cannot', () => {
    buttons({ state: 'retired' }, { draft: CHANGED })
    expect(screen.queryByRole('button')).toBeNull()
    expect(screen.getByText(/a duplicate can go live/)).toBeDefined()
  })

  test('what is in the way is listed', async () => {
    const refused = () =>
      refusal(422, 'This workflow cannot go live yet.', { steps: 'A message has no subject.' })
    buttons({ state: 'draft', live: null }, {}, { 'POST /api/workflows/w/go-live': refused })
    fireEvent.click(button('Go live'))
    expect(await screen.findByText('This workflow cannot go live yet.')).toBeDefined()
    expect(screen.getByText(/A message has no subject/)).toBeDefined()
  })
})

describe('pausing and resuming', () => {
  test('pausing says whom it holds, and does nothing before that is confirmed', async () => {
    const asked = buttons({}, { inProgress: 1 }, { 'POST /api/workflows/w/pause': done })
    fireEvent.click(button('Pause'))
    expect(screen.getByRole('alertdialog').textContent).toContain('1 run in progress will be held')
    expect(asked).toEqual([])
    confirm('Pause')
    await waitFor(() => expect(asked[0]).toMatchObject({ path: '/api/workflows/w/pause' }))
  })

  test.each([
    ['send them all', null, /4 get a message at once.*2 leave by an exclusion/],
    ['leave out all that are late', 0, /late at all are left out/],
    ['leave out those over 2 days late', 48, /more than 48 hours late are left out/],
  ])('overdue messages: %s', async (choice, hours, words) => {
    const asked = buttons({ state: 'paused' }, {}, {
      '/api/workflows/w/overdue': { overdue: 4, leaving: 2, oldestAt: 0 },
      'POST /api/workflows/w/resume': done,
    }) // prettier-ignore
    await userEvent.selectOptions(
      await screen.findByLabelText('What becomes of overdue messages'),
      choice,
    )
    fireEvent.click(button('Resume'))
    expect(screen.getByRole('alertdialog').textContent).toMatch(words)
    confirm('Resume')
    await waitFor(() =>
      expect(asked).toContainEqual({
        method: 'POST',
        path: '/api/workflows/w/resume',
        body: { skipLaterThanHours: hours },
      }),
    )
  })

  test('where nothing fell due nothing is asked', async () => {
    buttons(
      { state: 'paused' },
      {},
      { '/api/workflows/w/overdue': { overdue: 0, leaving: 0, oldestAt: null } },
    )
    fireEvent.click(button('Resume'))
    expect(screen.getByRole('alertdialog').textContent).toContain('No message fell due')
    expect(screen.queryByLabelText('What becomes of overdue messages')).toBeNull()
  })
})

test('people are moved in a pause too, and go on once it is over', async () => {
  buttons({ state: 'paused' }, { onOlderVersions: 5 }, { '/api/workflows/w/overdue': { overdue: 0, leaving: 0, oldestAt: null } }) // prettier-ignore
  fireEvent.click(button('5 on older versions'))
  expect(screen.getByRole('alertdialog').textContent).toContain('Nobody goes on before you resume')
  await userEvent.keyboard('{Escape}')
  fireEvent.click(button('Resume'))
  expect(screen.getByRole('alertdialog').textContent).toContain('5 of them on older versions')
})

test('people on older versions are moved, and those who stay are told of', async () => {
  buttons({}, { onOlderVersions: 5 }, {
    'POST /api/workflows/w/move-people': { moved: 4, stay: 1 },
  }) // prettier-ignore
  fireEvent.click(button('5 on older versions'))
  confirm('Move them')
  expect(await screen.findByText(/4 runs moved to the newest version. 1 run stay/)).toBeDefined()
})
