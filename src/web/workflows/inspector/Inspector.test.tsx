import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import { EVENT_TYPES, isStatusChange } from '../../../core/events/eventTypes.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { insertStep } from '../../../core/workflow/edit.ts'
import type { Step, StepKind } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail, happened, on, ordersEver, wait } from '../../../testing/builders.ts'
import {
  choose,
  inspect,
  inspectStep,
  isValid,
  press,
  SENDER,
  tick,
} from '../../testing/inspector.tsx'
import { newStep } from '../newSteps.ts'
import { STEP_KINDS, STEP_LOOKS } from '../stepLooks.ts'

describe('a new step of every kind', () => {
  test.each(STEP_KINDS.map((kind) => [kind, STEP_LOOKS[kind].label] as const))(
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
    const now = await inspect(aDefinition({ steps: [split()] }), { kind: 'branch', branching: 's', branch: 'one' }) // prettier-ignore
    choose('Name', 'New people')
    expect(order(now.definition)).toEqual(['New people', 'Second order'])
    press('Remove this path')
    expect(order(now.definition)).toEqual(['Second order'])
    expect(now.selection).toEqual({ kind: 'step', key: 's' })
  })

  test('a path is doubled, cut and pasted into another split, with its condition and steps', async () => {
    const other = { ...split(), key: 't', branches: [{ key: 'three', name: 'Third order', when: ordersEver(3), steps: [anEmail('m')] }] } // prettier-ignore
    const now = await inspect(aDefinition({ steps: [split(), other] }), { kind: 'branch', branching: 's', branch: 'one' }) // prettier-ignore
    press('Duplicate')
    expect(order(now.definition)).toEqual(['First order', 'Second order', 'First order', 'Third order']) // prettier-ignore
    isValid(now.definition)
    press('Cut')
    expect(order(now.definition)).toEqual(['First order', 'Second order', 'Third order'])
    act(() => now.select({ kind: 'branch', branching: 't', branch: 'three' }))
    // The only path of a split stays; a copy of it does not hurt.
    expect(screen.queryByRole('button', { name: 'Cut' })).toBeNull()
    press('Paste here')
    expect(order(now.definition)).toEqual(['First order', 'Second order', 'Third order', 'First order']) // prettier-ignore
    expect(now.selection).toMatchObject({ kind: 'branch', branching: 't' })
    isValid(now.definition)
  })

  test('of an arm the steps are copied, and pasted into another', async () => {
    const arm = (key: string, steps: Step[]) => ({ key, name: key, weight: 1, steps })
    const steps: Step[] = [
      { key: 'e', kind: 'experiment', name: 'Which', lottery: 'e', arms: [arm('a', [anEmail('m'), wait('w', 'P1D')]), arm('b', [])] },
    ] // prettier-ignore
    const now = await inspect(aDefinition({ steps }), {
      kind: 'branch',
      branching: 'e',
      branch: 'a',
    })
    press('Copy its steps')
    act(() => now.select({ kind: 'branch', branching: 'e', branch: 'b' }))
    expect(screen.queryByRole('button', { name: 'Copy its steps' })).toBeNull()
    press('Paste here')
    expect(now.definition.steps[0]).toMatchObject({ arms: [{ steps: [{}, {}] }, { steps: [{ key: 'm-2' }, { key: 'w-2' }] }] }) // prettier-ignore
    isValid(now.definition)
  })

  test('everyone else is no path of its own', async () => {
    await inspect(aDefinition({ steps: [split()] }), {
      kind: 'branch',
      branching: 's',
      branch: null,
    })
    expect(screen.getByText(/^Whoever no other path/)).toBeDefined()
    expect(screen.queryByRole('button', { name: 'Remove this path' })).toBeNull()
  })

  test('an arm that sends something cannot become a holdout', async () => {
    const arm = (key: string, steps: Step[]) => ({ key, name: key, weight: 1, steps })
    const steps: Step[] = [
      { key: 'e', kind: 'experiment', name: 'Which', lottery: 'e', arms: [arm('a', [anEmail('m')]), arm('b', [])] },
    ] // prettier-ignore
    const now = await inspect(aDefinition({ steps }), {
      kind: 'branch',
      branching: 'e',
      branch: 'a',
    })
    expect(screen.getByLabelText(/^holdout/)).toHaveProperty('disabled', true)
    choose('Weight, compared with the other arms', '3')
    press('← the whole experiment')
    expect(now.selection).toEqual({ kind: 'step', key: 'e' })
  })
})

describe('the rules of a workflow', () => {
  test('every event can start it', async () => {
    const now = await inspect(aDefinition({ trigger: on('order.placed'), steps: [] }), { kind: 'trigger' }) // prettier-ignore
    for (const event of EVENT_TYPES) {
      choose('Event', event)
      expect(now.definition.trigger).toMatchObject({ kind: 'event', event })
      expect(screen.queryByRole('group', { name: 'From' }) !== null).toBe(isStatusChange(event))
      isValid(now.definition)
    }
  })

  test('from a status to another; what belongs to another event goes', async () => {
    const now = await inspect(aDefinition({ trigger: on('order.status_changed'), steps: [] }), { kind: 'trigger' }) // prettier-ignore
    const to = within(screen.getByRole('group', { name: 'To' }))
    fireEvent.click(to.getByRole('button', { name: /^stuck on a problem/i }))
    expect(now.definition.trigger).toMatchObject({ to: [expect.any(String)] })
    choose('Event', 'order.placed')
    expect(now.definition.trigger).not.toHaveProperty('to')
  })

  test('a date, so many days before, by whose clock', async () => {
    const now = await inspect(aDefinition({ steps: [] }), { kind: 'trigger' })
    choose('What starts it', 'date')
    choose('Days', '5000')
    choose('When the date is set or moved after that moment', 'startAtOnce')
    expect(now.definition.trigger).toMatchObject({ direction: 'before', ifNearer: 'startAtOnce' })
    isValid(now.definition)
    // After a date there is no lead that it could be nearer than.
    choose('Which side', 'after')
    expect(now.definition.trigger).not.toHaveProperty('ifNearer')
    expect(screen.queryByLabelText(/set or moved/)).toBeNull()
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
