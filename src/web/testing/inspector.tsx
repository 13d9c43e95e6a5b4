import { fireEvent, screen, waitFor } from '@testing-library/react'
import { useState } from 'react'
import { expect } from 'vitest'
import { definitionSchema, type Definition } from '../../core/workflow/definition.ts'
import type { Step } from '../../core/workflow/steps.ts'
import { aDefinition } from '../../testing/builders.ts'
import { Inspector } from '../workflows/inspector/Inspector.tsx'
import type { Selection } from '../workflows/selection.ts'
import { WordsProvider } from '../ui/data/words.tsx'
import { show, type Answers } from './screen.tsx'

export const SENDER = { name: 'Combwright', address: 'hello@combwright.example' }
export const ANSWERS = {
  '/api/addresses': {
    postalAddress: 'Rua das Colmeias 12, Sintra',
    senders: [
      { ...SENDER, verified: true },
      { name: 'Maren', address: 'maren@combwright.example', verified: true },
      { name: 'Swarm desk', address: 'swarm@combwright.example', verified: false },
    ],
    groups: [{ key: 'care', name: 'Care team', addresses: ['tiago@combwright.example'] }],
  },
  '/api/clock': { now: Date.parse('2026-04-14T09:20:00Z'), movedByHand: true, target: null },
  '/api/conditions/count': { of: 200, held: [50], first: [50], since: 0 },
  '/api/counter/products': [],
  '/api/workflows': [],
}

/** The inspector of a draft, once its form is there; tells what the draft and what is selected are by now. */
export async function inspect(
  first: Definition,
  selection: Selection,
  readOnly = false,
  answers: Answers = {},
) {
  const now = { definition: first, selection, select: (_to: Selection): void => undefined }
  function Page() {
    const [definition, setDefinition] = useState(first)
    const [selected, setSelected] = useState(selection)
    now.select = setSelected
    now.definition = definition
    now.selection = selected
    return (
      <Inspector
        definition={definition}
        selection={selected}
        onSelect={setSelected}
        onChange={setDefinition}
        readOnly={readOnly}
        whole={null}
        versions={null}
        isFirst
      />
    )
  }
  show(
    <WordsProvider>
      <Page />
    </WordsProvider>,
    { ...ANSWERS, ...answers },
  )
  const inspector = screen.getByRole('complementary', { name: 'Inspector' })
  await waitFor(() => expect(inspector.ariaBusy).toBe('false'))
  return now
}

export const inspectStep = (step: Step, over: Partial<Definition> = {}) =>
  inspect(aDefinition({ steps: [step], ...over }), { kind: 'step', key: step.key })
export const choose = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } })
export const press = (name: string | RegExp) =>
  fireEvent.click(screen.getByRole('button', { name }))
export const tick = (label: string | RegExp) => fireEvent.click(screen.getByLabelText(label))
export const isValid = (definition: Definition) => {
  expect(definitionSchema.safeParse(definition).error).toBeUndefined()
}
