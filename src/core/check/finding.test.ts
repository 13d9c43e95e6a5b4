import { expect, test } from 'vitest'
import { advises, alikeFindings, stops } from './finding.ts'

const place = (key: string) => ({ kind: 'step' as const, key })
const clash = (key: string) => advises('clash', place(key), `${key} clashes`, '')
const empty = (key: string) => stops('empty', place(key), `${key} is empty`, '')

test('findings of one kind stand together, what stops going live first', () => {
  const reward = advises('reward', place('a'), 'A reward', '')
  const found = [clash('a'), reward, clash('b'), empty('c'), clash('d')]
  const titles = alikeFindings(found).map((alike) => alike.map(({ title }) => title))
  expect(titles).toEqual([['c is empty'], ['a clashes', 'b clashes', 'd clashes'], ['A reward']])
})

test('what stops and what only advises never stand together', () => {
  const advice = advises('empty', place('b'), 'b is nearly empty', '')
  expect(alikeFindings([advice, empty('a')])).toEqual([[empty('a')], [advice]])
})
