import { screen, waitFor } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { expect } from 'vitest'
import { saveDraftBody } from '../../contract/workflows.ts'
import { inputProblem } from '../../core/words/inputProblem.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { WorkflowPage } from '../workflows/page/WorkflowPage.tsx'
import { ANSWERS } from './inspector.tsx'
import { NO_NUMBERS } from './listItem.ts'
import { refusal, show, type Asked } from './screen.tsx'

/** What the server has of the workflow by now; changed, it is as if somebody else had saved. */
export interface Server {
  draft: Definition
  revision: number
  isAway: boolean
  asked: Asked[]
}

const NUMBERS = {
  total: { ...NO_NUMBERS, nextDueAt: null },
  steps: [],
  branches: [],
  earned: { steps: [], branches: [] },
  exclusions: [],
  onOlderVersions: 0,
}

/** Opens the screen of a workflow, with a server that keeps drafts as the real one does. */
export async function openWorkflow(
  draft: Definition,
  role: 'marketer' | 'staff' = 'marketer',
): Promise<Server> {
  const server: Server = { draft, revision: 1, isAway: false, asked: [] }
  const unlessAway = (answer: (body: unknown) => unknown) => (body: unknown) => {
    if (server.isAway) throw new TypeError('Failed to fetch')
    return answer(body)
  }
  const save = (body: unknown) => {
    const { data, error } = saveDraftBody.safeParse(body, { error: inputProblem })
    if (error) {
      const problems = error.issues.map(({ path, message }) => [path.join('.'), message])
      return refusal(400, 'This cannot be taken as it is.', Object.fromEntries(problems))
    }
    const { revision, definition } = data
    if (revision !== server.revision) return refusal(409, 'Somebody else has saved this draft.')
    server.draft = definition
    server.revision += 1
    return { draftRevision: server.revision }
  }
  const workflow = () => ({
    id: 'w',
    state: 'draft',
    liveVersion: null,
    live: null,
    changedAt: 0,
    secondPerson: null,
    draft: server.draft,
    draftRevision: server.revision,
  })
  const page = (
    <Routes>
      <Route path="/workflows/:id/*" element={<WorkflowPage />} />
    </Routes>
  )
  server.asked = show(
    page,
    {
      ...ANSWERS,
      'GET /api/workflows/w': unlessAway(workflow),
      'PUT /api/workflows/w/draft': unlessAway(save),
      '/api/workflows/w/visit': unlessAway(() => ({ others: [], draftRevision: server.revision })),
      '/api/workflows/w/numbers': NUMBERS,
      '/api/workflows/replay': () => Response.json(null),
      '/api/live-workflows': [],
      '/api/notices': [],
      '/api/messages/samples': [],
      '/api/messages/preview': () => refusal(404, 'There is nobody to show it for.'),
      '/api/kept-blocks': [],
      '/api/workflows/w/versions': [],
    },
    { address: '/workflows/w', role },
  )
  await screen.findByRole('complementary', { name: 'Inspector' })
  // What is saved from now on is not known to this window before it asks again.
  await waitFor(() => expect(server.asked.some(({ path }) => path.endsWith('/visit'))).toBe(true))
  return server
}
