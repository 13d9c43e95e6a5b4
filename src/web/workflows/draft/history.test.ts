import { expect, test } from 'vitest'
import { aDefinition } from '../../../testing/builders.ts'
import { historyReducer, type History, type HistoryAction } from './history.ts'

const named = (name: string) => aDefinition({ name })
const start: History = { past: [], present: named('start'), future: [], typing: null }
const play = (...actions: HistoryAction[]): History => actions.reduce(historyReducer, start)
const change = (name: string, into?: string, at = 0): HistoryAction => ({
  kind: 'change',
  to: named(name),
  typed: into === undefined ? null : { into, at },
})
/** What there is after each undo, until nothing can be undone. */
const undone = (history: History): string[] => {
  const back = historyReducer(history, { kind: 'undo' })
  return back === history ? [] : [back.present.name, ...undone(back)]
}

test('undo and redo go back and forth without limit', () => {
  const three = play(change('a'), change('b'), change('c'))
  const back = [1, 2, 3, 4].reduce((history) => historyReducer(history, { kind: 'undo' }), three)
  expect(back.present.name).toBe('start')
  const forth = [1, 2, 3, 4].reduce((history) => historyReducer(history, { kind: 'redo' }), back)
  expect(forth.present.name).toBe('c')
})

test('what is typed into one field is undone in one go', () => {
  const typed = play(change('T', 'name'), change('Th', 'name'), change('Tha', 'name'))
  expect(historyReducer(typed, { kind: 'undo' }).present.name).toBe('start')
})

test('after a pause, what is typed is undone by itself', () => {
  const typed = play(
    change('a', 'name', 0),
    change('ab', 'name', 900),
    change('ab c', 'name', 2500),
    change('ab cd', 'name', 2700),
  )
  expect(undone(typed)).toEqual(['ab', 'start'])
})

test('a text typed without a pause does not go by one key', () => {
  const letters = Array.from({ length: 50 }, (_, n) => change(`${n}`, 'body', n * 500))
  expect(undone(play(...letters))).toEqual(['39', '19', 'start'])
})

test('a change after undoing forgets what was undone', () => {
  const changed = play(change('a'), { kind: 'undo' }, change('b'))
  expect(changed.future).toEqual([])
})

test('typing again after undoing does not melt into what was typed before', () => {
  const history = play(
    change('a', 'name'),
    change('b', 'other'),
    { kind: 'undo' },
    change('c', 'name'),
  )
  expect(historyReducer(history, { kind: 'undo' }).present.name).toBe('a')
})

test('a part that comes or goes is a step of its own, also while one thing is edited', () => {
  const filter = { kind: 'field' as const, field: 'order.items', op: 'gte', value: 2 }
  const withFilter = {
    ...named('a'),
    trigger: { kind: 'event' as const, event: 'order.placed' as const, filter },
  }
  const history = play(change('a', 'filter'), {
    kind: 'change',
    to: withFilter,
    typed: { into: 'filter', at: 0 },
  })
  expect(historyReducer(history, { kind: 'undo' }).present.name).toBe('a')
})
