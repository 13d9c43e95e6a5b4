import { fireEvent, screen } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { aDefinition, anEmail, wait } from '../../../testing/builders.ts'
import { show } from '../../testing/screen.tsx'
import type { Selection } from '../selection.ts'
import { WordsProvider } from '../../ui/data/words.tsx'
import { VersionsPanel } from './VersionsPanel.tsx'

const FIRST = aDefinition({ steps: [wait('w', 'P1D'), anEmail('m', { name: 'Thanks' })] })
const SECOND = aDefinition({ steps: [wait('w', 'P2D'), anEmail('m', { name: 'Thanks' })] })
const row = (version: number, inProgress: number) => ({
  version,
  publishedAt: Date.parse('2026-04-01T08:00:00Z'),
  publishedBy: 'Maren',
  inProgress,
})
const ANSWERS = {
  '/api/workflows/w/versions': [row(2, 1), row(1, 4)],
  '/api/workflows/w/versions/1': { version: 1, definition: FIRST },
  '/api/workflows/w/versions/2': { version: 2, definition: SECOND },
  '/api/counter/products': [],
  '/api/workflows': [],
}

function panel(draft: Definition, over: Partial<WorkflowResponse> = {}, answers: object = ANSWERS) {
  const onTake = vi.fn<(definition: Definition) => void>()
  const onSelect = vi.fn<(selection: Selection) => void>()
  show(
    <WordsProvider>
      <VersionsPanel
        workflow={{ id: 'w', liveVersion: 2, ...over } as WorkflowResponse}
        definition={draft}
        onSelect={onSelect}
        onTake={onTake}
      />
    </WordsProvider>,
    { ...answers },
  )
  return { onTake, onSelect }
}

test('the draft is held against what is live, and can be as an earlier one was', async () => {
  const { onTake, onSelect } = panel(SECOND)
  expect(await screen.findByText('The draft says the same as version 2.')).toBeDefined()
  expect(screen.queryByRole('button', { name: /^Make the draft/ })).toBeNull()
  fireEvent.click(screen.getByRole('button', { name: /^v1/ }))
  expect(await screen.findByText('The draft changes 1 thing of version 1:')).toBeDefined()
  fireEvent.click(screen.getByRole('button', { name: /wait/i }))
  expect(onSelect).toHaveBeenCalledWith({ kind: 'step', key: 'w' })
  fireEvent.click(screen.getByRole('button', { name: 'Make the draft as version 1 was' }))
  expect(onTake).toHaveBeenCalledWith(FIRST)
})

test('each version says who published it and how many go by it', async () => {
  panel(SECOND)
  expect((await screen.findByRole('button', { name: /^v1/ })).textContent).toContain('4 runs in progress') // prettier-ignore
  expect(screen.getByRole('button', { name: /^v2/ }).textContent).toMatch(/live.*1 run in progress/)
})

test('what has never been live has no versions', async () => {
  panel(SECOND, { liveVersion: null }, { '/api/workflows/w/versions': [] })
  expect(await screen.findByText(/^It has never been live/)).toBeDefined()
})

test('versions that cannot be had are asked for again', async () => {
  panel(SECOND, {}, {})
  expect(await screen.findByRole('alert')).toBeDefined()
  expect(screen.getByRole('button', { name: /again/i })).toBeDefined()
})
