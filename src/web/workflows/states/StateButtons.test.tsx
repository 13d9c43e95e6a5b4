import { fireEvent, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Route, Routes } from 'react-router'
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
  { draft = LIVE, inProgress = 3, onOlderVersions = 0, flush = async () => 7 }: { draft?: Definition; inProgress?: number; onOlderVersions?: number; flush?: () => Promise<number> } = {},
  answers: Answers = {},
) {
  const workflow = { id: 'w', state: 'live', live: LIVE, liveVersion: 1, ...over } as WorkflowResponse
  const numbers = { total: { inProgress }, onOlderVersions } as WorkflowNumbersResponse
  return show(
    <Routes>
      <Route path="/" element={<StateButtons workflow={workflow} definition={draft} flush={flush} numbers={numbers} />} />
      <Route path="/workflows/w/going-live" element={<p>The page before it goes live</p>} />
    </Routes>,
    { '/api/workflows/w/intakes': [], '/api/workflows/w/bulk-changes': [], ...answers },
  )
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

  test.each([
    ['draft', 'Go live'],
    ['live', 'Publish changes'],
    ['paused', 'Publish changes'],
  ] as const)('one that is %s leads to all there is to know before it', async (state, label) => {
    buttons({ state, live: state === 'draft' ? null : LIVE }, { draft: CHANGED }, {
      '/api/workflows/w/overdue': { overdue: 0, leaving: 0, oldestAt: null },
    }) // prettier-ignore
    fireEvent.click(button(label))
    expect(await screen.findByText('The page before it goes live')).toBeDefined()
  })

  test('a retired one cannot', () => {
    buttons({ state: 'retired' }, { draft: CHANGED })
    expect(screen.queryByRole('button')).toBeNull()
    expect(screen.getByText(/a duplicate can go live/)).toBeDefined()
  })

  test('what cannot be saved is said, and leads nowhere', async () => {
    buttons({ state: 'draft', live: null }, { flush: () => Promise.reject(new Error('Somebody else has saved.')) }) // prettier-ignore
    fireEvent.click(button('Go live'))
    expect(await screen.findByText('Somebody else has saved.')).toBeDefined()
    expect(screen.queryByText('The page before it goes live')).toBeNull()
  })
})

test('that people are let in who qualified before is said, and leads to where it can be stopped', async () => {
  const intake = { id: 1, person: 'Maren', startedAt: 0, perHour: 20, people: 38, entered: 12, turnedAway: 1, endedAt: null, isStopped: false } // prettier-ignore
  const over = { ...intake, id: 2, endedAt: 5 }
  buttons({}, {}, { '/api/workflows/w/intakes': [intake, over] })
  fireEvent.click(await screen.findByText('letting people in: 13 of 38'))
  expect(await screen.findByText('The page before it goes live')).toBeDefined()
})

describe('pausing and resuming', () => {
  test('pausing says whom it holds, and does nothing before that is confirmed', async () => {
    const asked = buttons({}, { inProgress: 1 }, { 'POST /api/workflows/w/pause': done })
    fireEvent.click(button('Pause'))
    expect(screen.getByRole('alertdialog').textContent).toContain('1 run in progress will be held')
    expect(asked.map(({ method }) => method)).not.toContain('POST')
    confirm('Pause')
    await waitFor(() => expect(asked).toContainEqual(expect.objectContaining({ path: '/api/workflows/w/pause' }))) // prettier-ignore
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
    'POST /api/workflows/w/move-people': { moved: 4, stay: 1, left: 0 },
  }) // prettier-ignore
  fireEvent.click(button('5 on older versions'))
  confirm('Move them')
  expect(await screen.findByText(/4 runs moved to the newest version. 1 run stay/)).toBeDefined()
})

test('many are moved by and by: that is said, and how far it has come', async () => {
  const change = { id: 7, kind: 'move', toVersion: 3, people: 34_120, done: 1_000, stay: 200 }
  // Nothing at first, then the move, for as long as it takes.
  let changes: object[] = []
  buttons({}, { onOlderVersions: 34_120 }, {
    'POST /api/workflows/w/move-people': () => {
      changes = [change]
      return { moved: 250, stay: 0, left: 33_870 }
    },
    '/api/workflows/w/bulk-changes': () => changes,
  }) // prettier-ignore
  fireEvent.click(button('34120 on older versions'))
  confirm('Move them')
  expect(await screen.findByText(/The others, 33870 runs, follow/)).toBeDefined()
  expect(await screen.findByText('moving runs to version 3: 1,200 of 34,120')).toBeDefined()
  // Nobody has to ask for it a second time.
  expect(screen.queryByRole('button', { name: /on older versions/ })).toBeNull()
})

test('where somebody was quicker in another window, what stands there is asked for anew', async () => {
  const asked = buttons({ state: 'paused' }, {}, {
    '/api/workflows/w/overdue': { overdue: 0, leaving: 0, oldestAt: null },
    'POST /api/workflows/w/resume': () => refusal(409, 'This workflow is not paused.'),
  }) // prettier-ignore
  const times = () => asked.filter(({ path }) => path.endsWith('/bulk-changes')).length
  await waitFor(() => expect(times()).toBe(1))
  fireEvent.click(button('Resume'))
  confirm('Resume')
  expect(await screen.findByText('This workflow is not paused.')).toBeDefined()
  await waitFor(() => expect(times()).toBe(2))
})
