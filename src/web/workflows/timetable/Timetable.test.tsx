import { createEvent, fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useEffect, useState, type ComponentType } from 'react'
import { describe, expect, test } from 'vitest'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { Step } from '../../../core/workflow/steps.ts'
import {
  aDefinition,
  anEmail,
  beforePayment,
  end,
  ordersEver,
  wait,
} from '../../../testing/builders.ts'
import { show } from '../../testing/screen.tsx'
import { useEditing, type Editing } from '../editing/useEditing.ts'
import { OutlineView } from '../outline/OutlineView.tsx'
import type { Selection } from '../selection.ts'
import { WordsProvider } from '../../ui/data/words.tsx'
import { Timetable } from './Timetable.tsx'

const SPLIT: Step = {
  key: 's',
  kind: 'split',
  branches: [
    { key: 'b', name: 'Second order', when: ordersEver(2), steps: [anEmail('second', { name: 'Again' })] },
  ],
  otherwise: [anEmail('other', { name: 'Hello' })],
} // prettier-ignore
const STEPS = [wait('w', 'P1D'), anEmail('m', { name: 'Thanks' }), SPLIT, end('e')]

interface ShownProps {
  definition: Definition
  selection: Selection
  onSelect: (selection: Selection) => void
  editing: Editing | undefined
}

function AsTimetable(props: ShownProps) {
  return <Timetable {...props} numbers={undefined} corner="who" marks={() => undefined} whole={false} /> // prettier-ignore
}

/** A draft shown in one of the two ways it is edited in; tells what it and what is selected are by now. */
function edit(Shown: ComponentType<ShownProps>, mayEdit = true, over: Partial<Definition> = {}) {
  const now = { definition: aDefinition({ steps: STEPS, ...over }), selection: { kind: 'workflow' } as Selection } // prettier-ignore
  function Page() {
    const [definition, setDefinition] = useState(now.definition)
    const [selection, setSelection] = useState(now.selection)
    const editing = useEditing(definition, setDefinition, setSelection)
    useEffect(() => void Object.assign(now, { definition, selection }), [definition, selection])
    return (
      <Shown
        definition={definition}
        selection={selection}
        onSelect={setSelection}
        editing={mayEdit ? editing : undefined}
      />
    )
  }
  show(
    <WordsProvider>
      <Page />
    </WordsProvider>,
    { '/api/counter/products': [], '/api/workflows': [] },
  )
  return now
}

const keys = ({ steps }: Definition) => allSteps(steps).map(({ key }) => key)
const item = (key: string) => document.querySelector<HTMLElement>(`[data-item$=":${key}"]`)
const focus = (key: string) => item(key)?.focus()
const focused = () => (document.activeElement as HTMLElement | null)?.dataset['item']

/** Cuts or copies what has the focus; returns what is in the clipboard then. */
function clip(how: 'copy' | 'cut'): string {
  const at = document.activeElement as HTMLElement
  const event = createEvent[how](at)
  let text = ''
  Object.assign(event, { clipboardData: { setData: (_type: string, data: string) => (text = data) } })
  fireEvent(at, event)
  return text
} // prettier-ignore

const paste = (text: string) =>
  fireEvent.paste(document.activeElement as HTMLElement, { clipboardData: { getData: () => text } })

describe.each([
  ['the timetable', AsTimetable],
  ['the outline', OutlineView],
])('%s by keyboard', (_name, Shown) => {
  test('what is removed leaves the focus on what stood before it', async () => {
    const now = edit(Shown)
    focus('m')
    await userEvent.keyboard('{Delete}')
    expect(keys(now.definition)).toEqual(['w', 's', 'second', 'other', 'e'])
    expect(focused()).toMatch(/:w$/)
    await userEvent.keyboard('{Backspace}')
    expect(keys(now.definition)).toEqual(['s', 'second', 'other', 'e'])
    expect(focused()).toBeDefined()
    expect(now.selection).toEqual({ kind: 'workflow' })
  })

  test('what cannot be removed stays, and keeps the focus', async () => {
    const now = edit(Shown)
    const start = document.querySelector<HTMLElement>('[data-item]')
    start?.focus()
    await userEvent.keyboard('{Delete}')
    expect(keys(now.definition)).toEqual(keys(aDefinition({ steps: STEPS })))
    expect(document.activeElement).toBe(start)
  })

  test('doubled: the copy has a key of its own, is selected, and has the keyboard', async () => {
    const now = edit(Shown)
    focus('m')
    await userEvent.keyboard('{Control>}d{/Control}')
    const [, , copy] = keys(now.definition)
    expect(keys(now.definition)).toHaveLength(7)
    expect(copy).not.toBe('m')
    expect(now.selection).toEqual({ kind: 'step', key: copy })
    await waitFor(() => expect(focused()).toMatch(new RegExp(`:${copy}$`)))
    // What was too much is gone with a key.
    await userEvent.keyboard('{Delete}')
    expect(keys(now.definition)).not.toContain(copy)
    expect(focused()).toMatch(/:m$/)
  })

  test('cut and pasted elsewhere; copied with all its paths', () => {
    const now = edit(Shown)
    focus('w')
    const cut = clip('cut')
    expect(keys(now.definition)).not.toContain('w')
    focus('m')
    paste(cut)
    expect(keys(now.definition).slice(0, 2)).toEqual(['m', expect.stringMatching(/./)])
    expect(now.definition.steps[1]).toMatchObject({ kind: 'wait', for: 'P1D' })
    focus('s')
    const copied = clip('copy')
    focus('m')
    paste(copied)
    expect(now.definition.steps.filter(({ kind }) => kind === 'split')).toHaveLength(2)
    expect(new Set(keys(now.definition)).size).toBe(keys(now.definition).length)
  })

  test('what is no step cannot be pasted, and is said', async () => {
    const now = edit(Shown)
    focus('m')
    paste('a shopping list')
    expect(await screen.findByText(/There are no steps in the clipboard/)).toBeDefined()
    expect(keys(now.definition)).toEqual(keys(aDefinition({ steps: STEPS })))
  })

  test('"/" opens what can be added after it; found by typing, it is there and selected', async () => {
    const now = edit(Shown)
    focus('w')
    await userEvent.keyboard('/')
    await userEvent.keyboard('text mess')
    await userEvent.keyboard('{Enter}')
    await waitFor(() => expect(now.definition.steps[1]).toMatchObject({ kind: 'sms' }))
    expect(now.selection).toEqual({ kind: 'step', key: now.definition.steps[1]?.key })
  })

  test('who may only look walks, and changes nothing', async () => {
    const now = edit(Shown, false)
    focus('m')
    await userEvent.keyboard('{Delete}{Control>}d{/Control}/')
    expect(clip('cut')).toBe('')
    expect(keys(now.definition)).toEqual(keys(aDefinition({ steps: STEPS })))
    expect(screen.queryByRole('option')).toBeNull()
  })
})

describe('the timetable', () => {
  test('arrows follow the lines, into a path and out of it', async () => {
    edit(AsTimetable)
    document.querySelector<HTMLElement>('[data-item]')?.focus()
    const seen: (string | undefined)[] = []
    for (let press = 0; press < 6; press += 1) {
      await userEvent.keyboard('{ArrowRight}')
      seen.push(focused())
    }
    expect(seen.map((id) => id?.split(':').at(-1))).toEqual(['w', 'm', 's', 'b', 'second', 'e'])
    await userEvent.keyboard('{ArrowLeft}')
    expect(focused()).toMatch(/:(second|other)$/)
    await userEvent.keyboard('{ArrowDown}')
    expect(focused()).toBeDefined()
  })

  test('every step is a button that says what it is; rows say who travels on them', () => {
    edit(AsTimetable)
    const table = within(screen.getByRole('group', { name: 'Timetable' }))
    for (const name of ['Wait 1 d', 'Email: Thanks', 'Split', 'Path: Second order', 'End']) {
      expect(table.getAllByRole('button', { name }).length).toBeGreaterThan(0)
    }
    expect(table.getAllByText('Second order').length).toBeGreaterThan(1)
    expect(table.getAllByText('Everyone else').length).toBeGreaterThan(0)
  })

  test('a moment is changed at its head', async () => {
    const now = edit(AsTimetable)
    await userEvent.click(screen.getByRole('button', { name: 'Change the moment + 1 d' }))
    expect(now.selection).toEqual({ kind: 'step', key: 'w' })
  })

  test('so is the date that a workflow starts by', async () => {
    const now = edit(AsTimetable, true, { trigger: beforePayment() })
    const head = 'Change the moment 7 d before next payment, 09:00'
    await userEvent.click(screen.getByRole('button', { name: head }))
    expect(now.selection).toEqual({ kind: 'trigger' })
  })

  test('where nothing happens yet it says what to begin with', async () => {
    const now = edit(AsTimetable, true, { steps: [] })
    await userEvent.click(screen.getByRole('button', { name: 'an email' }))
    expect(now.definition.steps).toMatchObject([{ kind: 'email' }])
    expect(now.selection).toEqual({ kind: 'step', key: now.definition.steps[0]?.key })
    expect(screen.queryByText(/Nothing happens yet/)).toBeNull()
  })

  test('whoever may only look is not asked to begin', () => {
    edit(AsTimetable, false, { steps: [] })
    expect(screen.queryByText(/Nothing happens yet/)).toBeNull()
  })

  test('a place to add at is called by what it stands beside', () => {
    edit(AsTimetable)
    for (const name of [
      'Add before the wait of 1 d',
      'Add before “Thanks”',
      'Add before a split',
      'Add before “Again”',
      'Add before the end',
    ]) {
      expect(screen.getAllByRole('button', { name }).length).toBeGreaterThan(0)
    }
  })
})
