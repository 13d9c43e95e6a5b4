import { fireEvent, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, test } from 'vitest'
import { conditionSchema, type Condition } from '../../../core/conditions/condition.ts'
import { FIELDS, findField } from '../../../core/conditions/fields.ts'
import { OPERATORS } from '../../../core/conditions/operators.ts'
import { EVENT_TYPES } from '../../../core/events/eventTypes.ts'
import { showField } from '../../testing/screen.tsx'
import { ConditionEditor } from './ConditionEditor.tsx'
import { LINE_SCOPE, ScopeProvider, scopeOfTrigger, type ConditionScope } from './scope.ts'

const CLUB: Condition = { kind: 'field', field: 'customer.tags', op: 'hasAny', value: ['club'] }
const CLUB_SEGMENT = { id: 's1', name: 'The club', condition: CLUB, person: 'Maren', changedAt: 0 }
const ANSWERS = {
  '/api/clock': { now: Date.parse('2026-04-14T09:20:00Z'), movedByHand: true, target: null },
  '/api/counter/products': [],
  '/api/workflows': [],
  '/api/segments': [CLUB_SEGMENT],
  '/api/workflow-names': [],
  '/api/addresses': { senders: [], groups: [] },
}
const ORDER = scopeOfTrigger({ kind: 'event', event: 'order.placed' })
const overTotal: Condition = {
  kind: 'field',
  field: 'order.total',
  op: 'gte',
  value: { amountMinor: 5000, currency: 'EUR' },
}

const editor = (first: Condition, scope: ConditionScope = ORDER) =>
  showField<Condition>(
    first,
    (value, onChange) => (
      <ScopeProvider value={scope}>
        <ConditionEditor value={value} onChange={onChange} />
      </ScopeProvider>
    ),
    ANSWERS,
  )
const choose = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } })
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

describe('a segment', () => {
  test('is chosen by its name, and turned round', async () => {
    const held = editor(overTotal)
    choose('What is asked', 'segment')
    // Until one is chosen, what stood there is asked.
    expect(held()).toEqual(overTotal)
    await screen.findByRole('option', { name: 'The club' })
    choose('Segment', 's1')
    expect(held()).toEqual({ kind: 'segment', segment: 's1', name: 'The club', of: CLUB })
    expect(conditionSchema.safeParse(held()).success).toBe(true)
    fireEvent.click(screen.getByLabelText('not'))
    expect(held()).toMatchObject({ kind: 'not', of: { kind: 'segment' } })
  })

  test('that asks something else by now is taken over when one says so', async () => {
    const older: Condition = {
      kind: 'field',
      field: 'customer.tags',
      op: 'hasNone',
      value: ['club'],
    }
    const held = editor({ kind: 'segment', segment: 's1', name: 'The club', of: older })
    fireEvent.click(await screen.findByRole('button', { name: 'Take that over' }))
    expect(held()).toMatchObject({ of: CLUB })
    expect(screen.queryByRole('button', { name: 'Take that over' })).toBeNull()
  })

  test('is nothing that a line of an order is asked about', () => {
    editor({ kind: 'field', field: 'line.category', op: 'in', value: [] }, LINE_SCOPE)
    expect(screen.queryByRole('option', { name: 'a segment' })).toBeNull()
  })
})

describe('a fact', () => {
  test('every fact with every comparison is one that a workflow may hold', () => {
    const everything: ConditionScope = { ...ORDER, has: () => true }
    const held = editor(overTotal, everything)
    for (const { key, type } of FIELDS) {
      choose('Which fact', key)
      for (const { op } of OPERATORS[type]) {
        choose('Comparison', op)
        expect(held()).toMatchObject({ kind: 'field', field: key, op })
        expect(conditionSchema.safeParse(held()).error, `${key} ${op}`).toBeUndefined()
      }
    }
  })

  test('what was put in stays while the comparison takes the same', () => {
    const held = editor(overTotal)
    choose('Comparison', 'lt')
    expect(held()).toEqual({ ...overTotal, op: 'lt' })
    choose('Comparison', 'between')
    expect(held()).toMatchObject({ op: 'between', value: { from: { amountMinor: 0 } } })
    choose('Comparison', 'known')
    expect(held()).toEqual({ kind: 'field', field: 'order.total', op: 'known' })
  })

  test('only facts that there are here are offered', () => {
    editor({ kind: 'field', field: 'line.category', op: 'in', value: [] }, LINE_SCOPE)
    const facts = within(screen.getByLabelText('Which fact')).getAllByRole<HTMLOptionElement>(
      'option',
    )
    expect(facts.map(({ value }) => findField(value)?.about)).toEqual(facts.map(() => 'line'))
    const kinds = within(screen.getByLabelText('What is asked')).getAllByRole('option')
    expect(kinds.map(({ textContent }) => textContent)).toEqual(['a fact'])
  })

  test('one that is not offered here any more is still shown', () => {
    const held = editor(overTotal, LINE_SCOPE)
    expect(screen.getByLabelText<HTMLSelectElement>('Which fact').value).toBe('order.total')
    expect(held()).toEqual(overTotal)
  })

  test('values are typed, entered and taken out', async () => {
    const held = editor({ kind: 'field', field: 'order.tags', op: 'hasAny', value: [] })
    const box = screen.getByLabelText(/^Add to /)
    await userEvent.type(box, 'gift{Enter}wholesale{Enter}')
    expect(held()).toMatchObject({ value: ['gift', 'wholesale'] })
    press('Remove gift')
    expect(held()).toMatchObject({ value: ['wholesale'] })
  })
})

describe('groups', () => {
  test('a second condition makes a group, whose parts can be any of', () => {
    const held = editor(overTotal)
    press('and / or …')
    expect(held()).toMatchObject({ kind: 'all', of: [overTotal, { kind: 'field' }] })
    choose('How these go together', 'any')
    expect(held()).toMatchObject({ kind: 'any' })
  })

  test('of a group of one only that one is left', () => {
    const other: Condition = { kind: 'not', of: overTotal }
    const held = editor({ kind: 'all', of: [overTotal, other] })
    fireEvent.click(screen.getAllByRole('button', { name: 'Remove this condition' })[0] as Element)
    expect(held()).toEqual(other)
  })

  test('a group within another is of the other kind', () => {
    const held = editor({ kind: 'any', of: [overTotal, overTotal] })
    press('group')
    expect(held()).toMatchObject({ kind: 'any', of: [{}, {}, { kind: 'all', of: [{}, {}] }] })
  })

  test('not, and back', async () => {
    const held = editor(overTotal)
    await userEvent.click(screen.getByLabelText('not'))
    expect(held()).toEqual({ kind: 'not', of: overTotal })
    choose('Comparison', 'lte')
    expect(held()).toEqual({ kind: 'not', of: { ...overTotal, op: 'lte' } })
    await userEvent.click(screen.getByLabelText('not'))
    expect(held()).toEqual({ ...overTotal, op: 'lte' })
  })

  test('not of a group says so, and its parts can be changed', () => {
    const held = editor({ kind: 'not', of: { kind: 'any', of: [overTotal, overTotal] } })
    expect(screen.getByText('it is not so that')).toBeDefined()
    choose('How these go together', 'all')
    expect(held()).toMatchObject({ kind: 'not', of: { kind: 'all' } })
  })
})

describe('what happened', () => {
  test('every event can be asked about, as a workflow may hold it', () => {
    const held = editor(overTotal)
    choose('What is asked', 'history')
    for (const event of EVENT_TYPES) {
      choose('Event', event)
      expect(held()).toMatchObject({ kind: 'history', event })
      expect(conditionSchema.safeParse(held()).error, event).toBeUndefined()
    }
  })

  test('this order or any of theirs, where that can be told apart', () => {
    const held = editor(overTotal)
    choose('What is asked', 'history')
    choose('Event', 'order.refunded')
    choose('About', 'subject')
    expect(held()).toMatchObject({ event: 'order.refunded', about: 'subject' })
    choose('Event', 'subscription.cancelled')
    expect(held()).toMatchObject({ about: 'customer' })
    expect(screen.queryByLabelText('About')).toBeNull()
  })

  test('how often, within limits', () => {
    const held = editor(overTotal)
    choose('What is asked', 'history')
    choose('Count', 'exactly')
    choose('Times', '2.6')
    expect(held()).toMatchObject({ count: { op: 'exactly', times: 3 } })
    choose('Times', '-4')
    expect(held()).toMatchObject({ count: { times: 0 } })
  })

  test('where: of the event itself; without it again', () => {
    const held = editor(overTotal)
    choose('What is asked', 'history')
    press('where …')
    expect(held()).toMatchObject({ where: { kind: 'field' } })
    press('Remove this condition')
    expect(held()).not.toHaveProperty('where')
  })

  test('between two dates begins with the year so far, by the shop’s clock', async () => {
    const held = editor(overTotal)
    choose('What is asked', 'history')
    choose('When', 'lastDays')
    choose('Days', '99999')
    expect(held()).toMatchObject({ window: { kind: 'lastDays', days: 3650 } })
    await expect
      .poll(
        () => {
          choose('When', 'ever')
          choose('When', 'between')
          return held()
        },
        { timeout: 20_000 },
      )
      .toMatchObject({ window: { kind: 'between', from: '2026-01-01', to: '2026-04-14' } })
    // An emptied date is not passed on.
    choose('From', '')
    choose('To', '2026-03-31')
    expect(held()).toMatchObject({ window: { from: '2026-01-01', to: '2026-03-31' } })
  })
})

describe('what was ordered, other workflows, messages', () => {
  test('contents: which, how, and more than one test of them', () => {
    const held = editor(overTotal)
    choose('What is asked', 'lines')
    choose('Of what', 'orders')
    choose('How it contains', 'none')
    press('or …')
    expect(held()).toMatchObject({ kind: 'lines', on: 'orders', how: 'none', of: [{}, {}] })
    fireEvent.click(screen.getAllByRole('button', { name: 'Remove this condition' })[1] as Element)
    expect(held()).toMatchObject({ of: [{ field: 'line.category' }] })
    expect(screen.queryByRole('button', { name: 'Remove this condition' })).toBeNull()
    expect(conditionSchema.safeParse(held()).error).toBeUndefined()
  })

  test('workflows: now or before, and when', () => {
    const held = editor(overTotal)
    choose('What is asked', 'workflows')
    expect(screen.queryByLabelText('When')).toBeNull()
    choose('Now or before', 'hasBeen')
    choose('Workflow', 'this')
    choose('When', 'sinceEntry')
    expect(held()).toEqual({
      kind: 'workflows',
      workflow: 'this',
      state: 'hasBeen',
      window: { kind: 'sinceEntry' },
    })
  })

  test('messages: one of them or any', async () => {
    const held = editor(overTotal)
    choose('What is asked', 'messages')
    choose('What was done', 'clicked')
    const key = screen.getByLabelText('Key of the message; empty for any')
    await userEvent.type(key, 'thanks')
    expect(held()).toMatchObject({ kind: 'messages', did: 'clicked', step: 'thanks' })
    await userEvent.clear(key)
    expect(held()).not.toHaveProperty('step')
  })
})
