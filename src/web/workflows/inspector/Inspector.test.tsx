import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { describe, expect, test } from 'vitest'
import { EVENT_TYPE_NAMES, isStatusChange } from '../../../core/events/eventTypes.ts'
import { definitionSchema, type Definition } from '../../../core/workflow/definition.ts'
import { insertStep } from '../../../core/workflow/edit.ts'
import type { Step, StepKind } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail, happened, on, ordersEver, wait } from '../../../testing/builders.ts'
import { show } from '../../testing/screen.tsx'
import { newStep, STEP_KINDS } from '../newSteps.ts'
import type { Selection } from '../selection.ts'
import { WordsProvider } from '../words.tsx'
import { Inspector } from './Inspector.tsx'

const SENDER = { name: 'Combwright', address: 'hello@combwright.example' }
const ANSWERS = {
  '/api/addresses': {
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
async function inspect(first: Definition, selection: Selection, readOnly = false) {
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
    ANSWERS,
  )
  const inspector = screen.getByRole('complementary', { name: 'Inspector' })
  await waitFor(() => expect(inspector.ariaBusy).toBe('false'))
  return now
}

const inspectStep = (step: Step, over: Partial<Definition> = {}) =>
  inspect(aDefinition({ steps: [step], ...over }), { kind: 'step', key: step.key })
const choose = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } })
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }))
const tick = (label: string | RegExp) => fireEvent.click(screen.getByLabelText(label))
const isValid = (definition: Definition) => {
  expect(definitionSchema.safeParse(definition).error).toBeUndefined()
}

describe('a new step of every kind', () => {
  test.each(STEP_KINDS.map(({ kind, label }) => [kind, label] as const))(
    '%s: its form says what it is, and takes it out again',
    async (kind: StepKind) => {
      const empty = aDefinition({ steps: [] })
      const step = newStep(empty, kind, SENDER)
      const definition = insertStep(empty, { list: null, index: 0 }, step)
      isValid(definition)
      const now = await inspect(definition, { kind: 'step', key: step.key })
      expect(screen.getByRole('heading', { level: 2 })).toBeDefined()
      press(/^Remove this/)
      await waitFor(() => expect(now.definition.steps).toEqual([]))
      expect(now.selection).toEqual({ kind: 'workflow' })
    },
  )
})

describe('times', () => {
  test('a wait that goes on at a local time, on some days of the week', async () => {
    const now = await inspectStep(wait('w', 'P1D'))
    tick('then go on at a local time')
    expect(now.definition.steps[0]).toMatchObject({ at: '11:00' })
    choose('Local time of the recipient', '08:30')
    choose('Which day', 'onDay')
    press('Sat')
    press('Sun')
    expect(now.definition.steps[0]).toEqual({
      ...wait('w', 'P1D'),
      at: '08:30',
      onDay: true,
      weekdays: [1, 2, 3, 4, 5],
    })
    press('Sun')
    press('Sat')
    // All seven are no limit.
    expect(now.definition.steps[0]).not.toHaveProperty('weekdays')
    tick('then go on at a local time')
    expect(now.definition.steps[0]).toEqual(wait('w', 'P1D'))
  })

  test('the last day of the week cannot be taken out', async () => {
    const now = await inspectStep({
      key: 'w',
      kind: 'wait',
      for: 'P1D',
      at: '09:00',
      weekdays: [2],
    })
    press('Tue')
    expect(now.definition.steps[0]).toMatchObject({ weekdays: [2] })
  })

  test('until a fixed date begins with today, by the shop’s clock', async () => {
    const now = await inspectStep({
      key: 'u',
      kind: 'until',
      until: { kind: 'field', field: 'order.firstDate', offset: { direction: 'before', duration: 'P2D' }, at: '09:00' },
      ifPast: 'goOn',
    }) // prettier-ignore
    choose('Which side', 'after')
    choose('If that is past or not known', 'leave')
    expect(now.definition.steps[0]).toMatchObject({
      until: { offset: { direction: 'after', duration: 'P2D' } },
      ifPast: 'leave',
    })
    await expect
      .poll(
        () => {
          choose('Which date', 'field')
          choose('Which date', 'fixed')
          return now.definition.steps[0]
        },
        { timeout: 20_000 },
      )
      .toMatchObject({ until: { kind: 'fixed', date: '2026-04-14', at: '09:00' } })
    isValid(now.definition)
  })

  test('a wait for an event is about this order only where there is one', async () => {
    const now = await inspectStep({
      key: 'f',
      kind: 'waitFor',
      event: 'order.delivered',
      about: 'subject',
      limit: 'P7D',
      came: [],
      otherwise: [],
    })
    choose('Event', 'review.submitted')
    expect(now.definition.steps[0]).toMatchObject({ event: 'review.submitted', about: 'customer' })
    expect(screen.queryByLabelText('About')).toBeNull()
    isValid(now.definition)
  })

  test('several waits are changed at their moment together', async () => {
    const split: Step = {
      key: 's',
      kind: 'split',
      branches: [{ key: 'b', name: 'Second', when: ordersEver(2), steps: [wait('a', 'P2D')] }],
      otherwise: [wait('o', 'P2D')],
    }
    const now = await inspect(aDefinition({ steps: [split] }), {
      kind: 'moment',
      waits: ['a', 'o'],
    })
    expect(screen.getByText(/^2 waits lead to this moment/)).toBeDefined()
    choose('Wait', '5')
    expect(JSON.stringify(now.definition.steps).match(/"for":"P5D"/g)).toHaveLength(2)
  })
})

describe('messages', () => {
  test('a sender brings its name, unless another was written', async () => {
    const now = await inspectStep(anEmail('m', { sender: SENDER }))
    await screen.findByRole('option', { name: 'Maren · maren@combwright.example' })
    choose('From', 'maren@combwright.example')
    expect(now.definition.steps[0]).toMatchObject({ sender: { name: 'Maren' } })
    choose('Name shown', 'Maren at the hives')
    choose('From', 'swarm@combwright.example')
    expect(now.definition.steps[0]).toMatchObject({
      sender: { name: 'Maren at the hives', address: 'swarm@combwright.example' },
    })
    expect(screen.getByText(/Swarm desk .* \(not confirmed yet\)/)).toBeDefined()
  })

  test('one that is not among the senders is shown as what it is', async () => {
    await inspectStep(anEmail('m', { sender: { name: 'Old', address: 'old@combwright.example' } }))
    expect(await screen.findByText('old@combwright.example (not among the senders)')).toBeDefined()
  })

  test('copies: to addresses, and to groups, one that is gone among them', async () => {
    const now = await inspectStep(anEmail('m', { groups: ['gone'] }))
    tick(await screen.findByText('gone (gone)').then(() => /^gone/))
    expect(now.definition.steps[0]).not.toHaveProperty('groups')
    tick(/^Care team/)
    expect(now.definition.steps[0]).toMatchObject({ groups: ['care'] })
    choose('Copies to, at the same time', 'a@x.example, b@x.example')
    expect(now.definition.steps[0]).toMatchObject({ copies: ['a@x.example', 'b@x.example'] })
    choose('Copies to, at the same time', '')
    expect(now.definition.steps[0]).not.toHaveProperty('copies')
  })

  test('what happens shortly after another message is asked of marketing only', async () => {
    const now = await inspectStep(anEmail('m', { purpose: 'marketing' }))
    const gap = 'If another message left shortly before'
    expect(screen.getByLabelText(gap)).toBeDefined()
    choose('Purpose', 'transactional')
    expect(screen.queryByLabelText(gap)).toBeNull()
    expect(now.definition.steps[0]).toMatchObject({ purpose: 'transactional' })
  })

  test('only for some, and how many they are', async () => {
    const now = await inspectStep(anEmail('m'))
    press('Add a condition')
    expect(now.definition.steps[0]).toHaveProperty('onlyIf')
    expect((await screen.findByRole('status')).textContent).toMatch(/50 of 200 orders .*\(25 %\)/)
    press('Remove the condition')
    expect(now.definition.steps[0]).not.toHaveProperty('onlyIf')
  })

  test('a text is written with its fields as chips', async () => {
    await inspectStep(anEmail('m', { format: 'plain', subject: 'Order {{ order.number }}', body: 'Hello {{ customer.first_name | default: "you" }},\n\nyours' })) // prettier-ignore
    const text = await screen.findByRole('textbox', { name: 'Text' })
    const lines = [...text.querySelectorAll('p')].map(({ textContent }) => textContent)
    expect(lines).toEqual(['Hello first name, or “you”,', '', 'yours'])
    const subject = await screen.findByRole('textbox', { name: 'Subject' })
    expect(subject.textContent).toBe('Order order number')
  })

  test('merge fields are found by typing; those of colleagues only in notes', async () => {
    await inspectStep(anEmail('m', { format: 'plain' }))
    await userEvent.click(
      await screen.findByRole('button', { name: 'Put a merge field into Text' }),
    )
    await userEvent.type(screen.getByPlaceholderText(/^Find a field/), 'first name')
    const found = screen.getAllByRole('option').map(({ textContent }) => textContent)
    expect(found.some((one) => one.startsWith('first name'))).toBe(true)
    await userEvent.clear(screen.getByPlaceholderText(/^Find a field/))
    expect(screen.queryByRole('option', { name: /back office/ })).toBeNull()
  })

  test('the next message’s text comes into the same field, and what is put in there is its own', async () => {
    const texts = [anEmail('a', { subject: 'One', onlyIf: ordersEver(2) }), anEmail('b', { subject: 'Two' })] // prettier-ignore
    const now = await inspect(aDefinition({ steps: texts }), { kind: 'step', key: 'a' })
    const subject = await screen.findByRole('textbox', { name: 'Subject' })
    expect(subject.textContent).toBe('One')
    act(() => now.select({ kind: 'step', key: 'b' }))
    await waitFor(() => expect(subject.textContent).toBe('Two'))
    expect(screen.queryByRole('button', { name: 'Remove the condition' })).toBeNull()
    press('Put a merge field into Subject')
    await userEvent.click(screen.getByRole('option', { name: /^order number/ }))
    const [first, second] = now.definition.steps
    expect(first).toBe(texts[0])
    expect(second).toHaveProperty('subject', expect.stringContaining('{{ order.number }}'))
    act(() => now.select({ kind: 'step', key: 'a' }))
    await waitFor(() => expect(subject.textContent).toBe('One'))
  })

  test('who may only look cannot type either', async () => {
    await inspect(aDefinition({ steps: [anEmail('m', { format: 'plain' })] }), { kind: 'step', key: 'm' }, true) // prettier-ignore
    const text = await screen.findByRole('textbox', { name: 'Text' })
    await waitFor(() => expect(text.getAttribute('contenteditable')).toBe('false'))
    expect(screen.getByLabelText('Purpose').closest('fieldset')?.disabled).toBe(true)
  })
})

describe('actions', () => {
  test('a coupon: worth, expiry, minimum, how often', async () => {
    const now = await inspectStep(newStep(aDefinition({ steps: [] }), 'coupon', SENDER))
    const coupon = () => now.definition.steps[0]
    choose('Worth', 'amount')
    choose('Amount off', '7,50')
    expect(coupon()).toMatchObject({ discount: { kind: 'amount', amount: { amountMinor: 750 } } })
    choose('Amount off', 'much')
    // What is no amount changes nothing, and says so.
    expect(coupon()).toMatchObject({ discount: { amount: { amountMinor: 750 } } })
    expect(screen.getByLabelText('Amount off').getAttribute('aria-invalid')).toBe('true')
    tick('only from an amount on')
    choose('The least an order comes to', '40')
    expect(coupon()).toMatchObject({ minimum: { amountMinor: 4000, currency: 'EUR' } })
    tick('only from an amount on')
    expect(coupon()).not.toHaveProperty('minimum')
    choose('Worth', 'percent')
    choose('Per cent off', '250')
    expect(coupon()).toMatchObject({ discount: { kind: 'percent', percent: 100 } })
    isValid(now.definition)
  })

  test('a code that all share can be used without limit', async () => {
    const now = await inspectStep(newStep(aDefinition({ steps: [] }), 'coupon', SENDER))
    choose('Code: every # becomes a letter or digit; without one, all share it', 'SPRING')
    expect(screen.getByText(/All get the same code/)).toBeDefined()
    const uses = 'How often it can be used by all; 0 without limit'
    choose(uses, '20')
    expect(now.definition.steps[0]).toMatchObject({ pattern: 'SPRING', maxUses: 20 })
    choose(uses, '0')
    expect(now.definition.steps[0]).not.toHaveProperty('maxUses')
  })
})

describe('ways', () => {
  const split = (): Step => ({
    key: 's',
    kind: 'split',
    branches: [
      { key: 'one', name: 'First order', when: ordersEver(1), steps: [] },
      { key: 'two', name: 'Second order', when: ordersEver(2), steps: [] },
    ],
    otherwise: [],
  })
  const order = ({ steps }: Definition) =>
    steps.flatMap((step) => (step.kind === 'split' ? step.branches.map(({ name }) => name) : []))

  test('paths are asked earlier and later, and added', async () => {
    const now = await inspectStep(split())
    press('Ask Second order earlier')
    expect(order(now.definition)).toEqual(['Second order', 'First order'])
    expect(screen.getByRole('button', { name: 'Ask Second order earlier' })).toHaveProperty('disabled', true) // prettier-ignore
    press('Add a path')
    expect(order(now.definition)).toHaveLength(3)
    expect(now.selection.kind).toBe('branch')
    isValid(now.definition)
  })

  test('a path is renamed, and taken out while others are left', async () => {
    const now = await inspect(aDefinition({ steps: [split()] }), { kind: 'branch', fork: 's', branch: 'one' }) // prettier-ignore
    choose('Name', 'New people')
    expect(order(now.definition)).toEqual(['New people', 'Second order'])
    press('Remove this path')
    expect(order(now.definition)).toEqual(['Second order'])
    expect(now.selection).toEqual({ kind: 'step', key: 's' })
  })

  test('everyone else is no path of its own', async () => {
    await inspect(aDefinition({ steps: [split()] }), { kind: 'branch', fork: 's', branch: null })
    expect(screen.getByText(/^Whoever no other path/)).toBeDefined()
    expect(screen.queryByRole('button', { name: 'Remove this path' })).toBeNull()
  })

  test('an arm that sends something cannot become a holdout', async () => {
    const arm = (key: string, steps: Step[]) => ({ key, name: key, weight: 1, steps })
    const steps: Step[] = [
      { key: 'e', kind: 'experiment', name: 'Which', draw: 'e', arms: [arm('a', [anEmail('m')]), arm('b', [])] },
    ] // prettier-ignore
    const now = await inspect(aDefinition({ steps }), { kind: 'branch', fork: 'e', branch: 'a' })
    expect(screen.getByLabelText(/^holdout/)).toHaveProperty('disabled', true)
    choose('Weight, compared with the other arms', '3')
    press('← the whole experiment')
    expect(now.selection).toEqual({ kind: 'step', key: 'e' })
  })
})

describe('the rules of a workflow', () => {
  test('every event can start it', async () => {
    const now = await inspect(aDefinition({ trigger: on('order.placed'), steps: [] }), { kind: 'trigger' }) // prettier-ignore
    for (const event of EVENT_TYPE_NAMES) {
      choose('Event', event)
      expect(now.definition.trigger).toMatchObject({ kind: 'event', event })
      expect(screen.queryByRole('group', { name: 'From' }) !== null).toBe(isStatusChange(event))
      isValid(now.definition)
    }
  })

  test('from a status to another; what belongs to another event goes', async () => {
    const now = await inspect(aDefinition({ trigger: on('order.status_changed'), steps: [] }), { kind: 'trigger' }) // prettier-ignore
    const to = within(screen.getByRole('group', { name: 'To' }))
    fireEvent.click(to.getByRole('button', { name: /^on hold/i }))
    expect(now.definition.trigger).toMatchObject({ to: [expect.any(String)] })
    choose('Event', 'order.placed')
    expect(now.definition.trigger).not.toHaveProperty('to')
  })

  test('a date, so many days before, by whose clock', async () => {
    const now = await inspect(aDefinition({ steps: [] }), { kind: 'trigger' })
    choose('What starts it', 'date')
    choose('Days', '5000')
    choose('Which side', 'after')
    choose('At', '07:45')
    choose('Whose clock', 'shop')
    expect(now.definition.trigger).toMatchObject({ kind: 'date', days: 730, direction: 'after', at: '07:45', zone: 'shop' }) // prettier-ignore
    isValid(now.definition)
    choose('What starts it', 'hand')
    choose('What is chosen', 'order')
    expect(now.definition.trigger).toEqual({ kind: 'hand', subject: 'order' })
  })

  test('entry: again after a while, one run at a time, priority within limits', async () => {
    const now = await inspect(aDefinition({ steps: [] }), { kind: 'entry' })
    choose('How often one person may enter', 'after')
    choose('After the last entry', '90')
    choose('While someone is in it', 'one')
    choose('Priority, 0 to 100: higher goes first where workflows share a trigger', '400')
    expect(now.definition).toMatchObject({
      entry: { rule: { kind: 'after', duration: 'P90D' }, overlap: 'one' },
      priority: 100,
    })
    isValid(now.definition)
  })

  test('exclusions are added, changed and taken out', async () => {
    const exclusions = [
      { key: 'refunded', when: happened('order.refunded'), effect: 'leave' as const },
    ]
    const now = await inspect(aDefinition({ exclusions, steps: [] }), { kind: 'exclusions' })
    press('Add exclusion')
    expect(now.definition.exclusions).toHaveLength(2)
    choose('Exclusion 2: the person', 'skip')
    expect(now.definition.exclusions.map(({ effect }) => effect)).toEqual(['leave', 'skip'])
    press('Remove exclusion 1')
    expect(now.definition.exclusions.map(({ effect }) => effect)).toEqual(['skip'])
    isValid(now.definition)
  })

  test('name, purpose and labels; a label is there once', async () => {
    const now = await inspect(aDefinition({ steps: [] }), { kind: 'workflow' })
    choose('Name', 'Thanks')
    choose('What it is for, for colleagues', 'The first lines')
    const labels = screen.getByLabelText('Labels, for the list')
    await userEvent.type(labels, 'spring{Enter}spring{Enter} shop {Enter}{Enter}')
    expect(now.definition).toMatchObject({ name: 'Thanks', description: 'The first lines', labels: ['spring', 'shop'] }) // prettier-ignore
    press('Remove the label spring')
    press('Remove the label shop')
    expect(now.definition).not.toHaveProperty('labels')
    isValid(now.definition)
  })
})
