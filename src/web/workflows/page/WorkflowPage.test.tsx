import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, test } from 'vitest'
import type { Step } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail, on, ordersEver, wait } from '../../../testing/builders.ts'
import { press } from '../../testing/inspector.tsx'
import { openWorkflow, type Server } from '../../testing/workflowScreen.tsx'

const SPLIT: Step = {
  key: 's',
  kind: 'split',
  branches: [{ key: 'b', name: 'Second order', when: ordersEver(2), steps: [] }],
  otherwise: [],
}
const FIRST = aDefinition({
  name: 'Thanks',
  steps: [wait('w', 'P1D'), anEmail('m', { name: 'Care guide' }), SPLIT],
})

const inspector = () => screen.getByRole('complementary', { name: 'Inspector' })
const item = (key: string) => document.querySelector<HTMLElement>(`[data-item$=":${key}"]`)
const field = (name: string) => within(inspector()).findByLabelText<HTMLInputElement>(name)
const keysOf = ({ draft }: Server) => draft.steps.map(({ key }) => key)
const fill = (at: HTMLElement, value: string) => fireEvent.change(at, { target: { value } })
const pressed = (key: string, held: object = {}) =>
  fireEvent.keyDown(document.activeElement ?? document.body, { key, ...held })
const focusOn = (key: string) => act(() => item(key)?.focus())
/** The draft's name as the head of the screen says it, a frame after the form. */
const heading = (name: string) => screen.findByRole('heading', { level: 1, name })

beforeEach(() => localStorage.clear())

describe('adding', () => {
  test('a step is put in, its form takes the cursor, and the server has it', async () => {
    const server = await openWorkflow(FIRST)
    await waitFor(() => expect(item('m')).not.toBeNull())
    focusOn('m')
    pressed('/')
    await userEvent.keyboard('hook{Enter}')
    const name = await field('Name')
    // Together with the form: whoever clicks another field at once keeps it.
    expect(document.activeElement).toBe(name)
    fill(await field('Address that is called'), 'https://hooks.example.org/in')
    await waitFor(() =>
      expect(server.draft.steps[2]).toMatchObject({
        kind: 'hook',
        url: 'https://hooks.example.org/in',
      }),
    )
    expect(keysOf(server)).toEqual(['w', 'm', expect.any(String), 's'])
  })

  test.each(['split', 'end'])(
    '%s, which has nothing to type, has the keyboard itself',
    async (kind) => {
      const server = await openWorkflow(FIRST)
      await waitFor(() => expect(item('w')).not.toBeNull())
      focusOn('w')
      pressed('/')
      await userEvent.keyboard(`${kind}{Enter}`)
      await waitFor(() => expect(keysOf(server)).toHaveLength(4))
      const added = keysOf(server)[1] ?? ''
      await waitFor(() => expect(document.activeElement).toBe(item(added)))
    },
  )

  test('the keyboard goes back to what was selected, when its form is left or undone', async () => {
    await openWorkflow(FIRST)
    await waitFor(() => expect(item('m')).not.toBeNull())
    fireEvent.click(item('m') as HTMLElement)
    await field('Name, for you and colleagues')
    screen.getByRole('button', { name: 'Whole workflow' }).focus()
    press('Whole workflow')
    await waitFor(() => expect(document.activeElement).toBe(item('m')))
    pressed('d', { ctrlKey: true })
    const name = await field('Name, for you and colleagues')
    act(() => name.focus())
    pressed('z', { ctrlKey: true })
    await waitFor(() => expect(document.activeElement).toHaveProperty('dataset.item'))
  })

  test('Enter on what is selected already takes the cursor to its form', async () => {
    await openWorkflow(FIRST)
    await waitFor(() => expect(item('w')).not.toBeNull())
    focusOn('w')
    fireEvent.click(item('w') as HTMLElement)
    const first = await field('How long')
    pressed('Enter')
    await waitFor(() => expect(document.activeElement).toBe(first))
    pressed('Escape')
    expect(document.activeElement).toBe(item('w'))
  })
})

describe('undoing', () => {
  test('what is typed is undone in one go, from the field, and done again', async () => {
    const server = await openWorkflow(FIRST)
    const name = await field('Name')
    // Without the pauses that letters have on a busy machine: each would end what is undone together.
    name.focus()
    for (const typed of ['Thanks a', 'Thanks ag', 'Thanks again']) fill(name, typed)
    expect(await heading('Thanks again')).toBeDefined()
    await userEvent.keyboard('{Control>}z{/Control}')
    expect(name.value).toBe('Thanks')
    await userEvent.keyboard('{Control>}{Shift>}z{/Shift}{/Control}')
    expect(name.value).toBe('Thanks again')
    await waitFor(() => expect(server.draft.name).toBe('Thanks again'))
    press('Undo')
    expect(await heading('Thanks')).toBeDefined()
    await waitFor(() => expect(server.draft.name).toBe('Thanks'))
    expect(screen.getByRole('button', { name: 'Undo' }).ariaDisabled).toBe('true')
  })

  test('what is removed comes back; what was selected and is gone gives way to the whole', async () => {
    const server = await openWorkflow(FIRST)
    await waitFor(() => expect(item('w')).not.toBeNull())
    fireEvent.click(item('w') as HTMLElement)
    expect(await field('How long')).toBeDefined()
    focusOn('w')
    pressed('Delete')
    await waitFor(() => expect(item('w')).toBeNull())
    expect((await field('Name')).value).toBe('Thanks')
    await waitFor(() => expect(keysOf(server)).toEqual(['m', 's']))
    press('Undo')
    await waitFor(() => expect(item('w')).not.toBeNull())
  })
})

describe('keeping', () => {
  test('while the server is away the draft is kept here, and opened again from there', async () => {
    const server = await openWorkflow(FIRST)
    server.isAway = true
    fill(await field('Name'), 'Typed alone')
    expect(await screen.findByText(/Your changes are kept in this browser/)).toBeDefined()
    expect(server.draft.name).toBe('Thanks')
    cleanup()
    const back = await openWorkflow(FIRST)
    expect((await field('Name')).value).toBe('Typed alone')
    await waitFor(() => expect(back.draft.name).toBe('Typed alone'))
    await waitFor(() => expect(localStorage).toHaveLength(0))
  })

  test('what cannot be saved is said in words, leads to its place, and is saved once mended', async () => {
    const server = await openWorkflow(FIRST)
    await waitFor(() => expect(item('m')).not.toBeNull())
    fireEvent.click(item('m') as HTMLElement)
    fill(await field('Name, for you and colleagues'), 'x'.repeat(121))
    const words = `The name of “${'x'.repeat(121)}” is longer than 120 characters.`
    expect((await screen.findByRole('alert')).textContent).toContain(words)
    press('Whole workflow')
    await field('Labels, for the list')
    press('Show it')
    const name = await field('Name, for you and colleagues')
    await waitFor(() => expect(document.activeElement).toBe(name))
    fill(name, 'Shorter')
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull())
    expect(server.draft.steps[1]).toMatchObject({ name: 'Shorter' })
  })

  test('of two who save, the second is asked: theirs is shown', async () => {
    const server = await openWorkflow(FIRST)
    Object.assign(server, { draft: { ...FIRST, name: 'Theirs' }, revision: 2 })
    fill(await field('Name'), 'Mine')
    expect(await screen.findByText('Somebody else has saved this draft.')).toBeDefined()
    expect(server.draft.name).toBe('Theirs')
    press('Show theirs')
    expect(await heading('Theirs')).toBeDefined()
    expect((await field('Name')).value).toBe('Theirs')
  })

  test('of two who save, the second is asked: mine takes its place', async () => {
    const server = await openWorkflow(FIRST)
    Object.assign(server, { draft: { ...FIRST, name: 'Theirs' }, revision: 2 })
    fill(await field('Name'), 'Mine')
    await screen.findByText('Somebody else has saved this draft.')
    press('Replace theirs with mine')
    await waitFor(() => expect(server.draft.name).toBe('Mine'))
    expect(server.revision).toBe(3)
  })
})

describe('the go-live check', () => {
  test('a finding leads to its place and is mended where it stands', async () => {
    const trigger = on('order.placed')
    const server = await openWorkflow(aDefinition({ trigger, steps: FIRST.steps }))
    const check = await screen.findByRole('list', { name: 'Go-live check' })
    fireEvent.click(within(check).getByRole('button', { name: 'Leave when the order is refunded' }))
    await waitFor(() => expect(server.draft.exclusions).toHaveLength(1))
    await waitFor(() => expect(screen.queryByText(/order is refunded/)).toBeNull())
  })
})

describe('how it is shown', () => {
  test('the outline says the same, and the same keys work there', async () => {
    const server = await openWorkflow(FIRST)
    await waitFor(() => expect(item('m')).not.toBeNull())
    press('Outline')
    expect(screen.getByRole('button', { name: 'Outline' }).ariaPressed).toBe('true')
    focusOn('m')
    pressed('d', { ctrlKey: true })
    await waitFor(() => expect(server.draft.steps).toHaveLength(4))
    expect(server.draft.steps[2]).toMatchObject({ name: 'Care guide' })
  })

  test('who may only look sees all of it and changes nothing', async () => {
    const server = await openWorkflow(FIRST, 'staff')
    const name = await field('Name')
    expect(name.matches(':disabled')).toBe(true)
    await waitFor(() => expect(item('m')).not.toBeNull())
    focusOn('m')
    pressed('Delete')
    pressed('d', { ctrlKey: true })
    pressed('/')
    expect(item('m')).not.toBeNull()
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull()
    expect(server.asked.filter(({ method }) => method === 'PUT')).toEqual([])
  })
})

describe('what the check has found leads to', () => {
  const findings = () => screen.findByRole('list', { name: 'Go-live check' })
  const show = async (words: RegExp) =>
    fireEvent.click(await within(await findings()).findByText(words))
  const button = { key: 'go', kind: 'button', label: 'Go', href: 'combwright.example' } as const
  const MAIL = anEmail('m', {
    name: 'Care guide',
    subject: '',
    replyTo: 'nobody',
    format: 'designed',
    blocks: [
      { key: 'top', kind: 'heading', level: 1, text: 'Hello {{ customer.first_name }}' },
      { key: 'two', kind: 'columns', columns: [[], [button]] },
    ],
  })

  test('a field of the form', async () => {
    await openWorkflow(aDefinition({ steps: [MAIL] }))
    await show(/has no subject/)
    const subject = await within(inspector()).findByRole('textbox', { name: 'Subject' })
    await waitFor(() => expect(document.activeElement).toBe(subject))
    await show(/would reach nobody/)
    await waitFor(() =>
      expect(document.activeElement?.closest('[data-part="envelope"]')).not.toBeNull(),
    )
  })

  test('a block, on the screen of its message, and from there to what else it has', async () => {
    const server = await openWorkflow(aDefinition({ steps: [MAIL] }))
    await show(/a button leads to/)
    const held = async (key: string) => {
      await waitFor(() => {
        const at = document.activeElement as HTMLElement | null
        expect(at?.dataset['block']).toBe(key)
        expect(at?.ariaExpanded).toBe('true')
      })
    }
    await held('go')
    await show(/first name is not known/)
    await held('top')
    await show(/would reach nobody/)
    await waitFor(() => expect(document.activeElement?.closest('details')?.open).toBe(true))
    press('Make it https://combwright.example')
    await waitFor(() => expect(JSON.stringify(server.draft)).toContain('"https://combwright.example"')) // prettier-ignore
  })
})
