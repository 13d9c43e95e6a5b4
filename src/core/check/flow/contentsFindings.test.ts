import { expect, test } from 'vitest'
import { aDefinition, anEmail, on, ordersEver, wait } from '../../../testing/builders.ts'
import type { Condition } from '../../conditions/condition.ts'
import type { SplitBranch, SplitStep, Step } from '../../workflow/steps.ts'
import { contentsFindings, contentsSplits, type OrderedTogether } from './contentsFindings.ts'

const asks = (op: 'hasAny' | 'hasAll', ...value: string[]): Condition => ({
  kind: 'field',
  field: 'order.categories',
  op,
  value,
})
const path = (name: string, when: Condition): SplitBranch => ({
  key: name.toLowerCase(),
  name,
  when,
  steps: [anEmail(`${name}-mail`)],
})
const HIVES = path('Hives', asks('hasAny', 'Hives'))
const FEED = path('Feed', asks('hasAny', 'Feed'))
const split = (...branches: SplitBranch[]): SplitStep => ({
  key: 's',
  kind: 'split',
  branches,
  otherwise: [],
})
/** Orders of some categories that take the path at a place. */
const orders = (count: number, place: number, ...categories: string[]): OrderedTogether => ({
  categories,
  orders: count,
  paths: [0, 1, 2, 3].map((index) => (index === place ? count : 0)),
})
const titles = (step: SplitStep, ...ordered: OrderedTogether[]) =>
  contentsFindings(step, ordered).map(({ title }) => title)

test('a path that takes many who bought of another path’s category as well', () => {
  const ordered = [
    orders(100, 0, 'Hives'),
    orders(30, 0, 'Feed', 'Hives'),
    orders(10, 0, 'Books', 'Feed', 'Hives'),
    orders(50, 1, 'Feed'),
  ]
  expect(titles(split(HIVES, FEED), ...ordered)).toEqual([
    'The path “Hives” also takes those who bought of Feed: 40 of 140 in a year.',
  ])
})
test('the repair puts a path for both above the two, after which there is nothing to find', () => {
  const step = split(HIVES, FEED)
  const [finding] = contentsFindings(step, [orders(30, 0, 'Feed', 'Hives')])
  const mended = finding?.repair?.mend(aDefinition({ steps: [step] })).steps[0]
  if (mended?.kind !== 'split') throw new Error('It is a split still')
  expect(mended.branches.map(({ when }) => when)).toEqual([
    asks('hasAll', 'Feed', 'Hives'),
    HIVES.when,
    FEED.when,
  ])
  expect(titles(mended, orders(30, 0, 'Feed', 'Hives'), orders(100, 1, 'Hives'))).toEqual([])
})
test('few are not worth a path, and nor is a small part', () => {
  expect(titles(split(HIVES, FEED), orders(19, 0, 'Feed', 'Hives'))).toEqual([])
  expect(titles(split(HIVES, FEED), orders(30, 0, 'Feed', 'Hives'), orders(271, 0, 'Hives'))).toEqual([]) // prettier-ignore
})
test('a path that asks for something else, or for what is not there, misses nothing', () => {
  const first = path('First', ordersEver(1))
  expect(titles(split(first, FEED), orders(30, 0, 'Feed', 'Hives'))).toEqual([])
  const books = path('Books too', asks('hasAll', 'Feed', 'Books'))
  expect(titles(split(HIVES, books), orders(30, 0, 'Feed', 'Hives'))).toEqual([])
})
test('only of splits by contents that all come to, in workflows about orders', () => {
  const found = (steps: Step[], trigger = on('order.fulfilled')) =>
    contentsSplits(aDefinition({ trigger, steps })).map(({ split: { key } }) => key)
  expect(found([wait('w', 'P1D'), split(HIVES, FEED)])).toEqual(['s'])
  expect(found([split(HIVES, path('First', ordersEver(1)))])).toEqual([])
  expect(found([split(HIVES, FEED)], on('checkout.started'))).toEqual([])
  const outer: SplitStep = {
    ...split(path('First', ordersEver(1))),
    key: 'o',
    otherwise: [split(HIVES, FEED)],
  }
  expect(found([outer])).toEqual([])
})
