import { expect, test } from 'vitest'
import { aDefinition, anEmail, on } from '../../testing/builders.ts'
import { definitionSchema } from './definition.ts'
import { forProduct, productsIn } from './forProduct.ts'

const book = { id: 'book-1', title: 'Reading the Frame' }
const other = { id: 'book-2', title: 'Costs $& Queens' }
const brush = { id: 'p1', title: 'Bee brush' }

const definition = aDefinition({
  name: 'By product: Reading the Frame',
  trigger: on('order.placed', {
    per: 'line',
    filter: { kind: 'field', field: 'line.product', op: 'in', value: ['book-1'] },
  }),
  steps: [
    anEmail('book-1', {
      subject: 'Before Reading the Frame arrives',
      body: 'You will like Reading the Frame. Reading the Frame is {{ line.title }}.',
    }),
  ],
})

test('what a workflow speaks of', () => {
  expect(productsIn(definition, [brush, book, other])).toEqual([book])
})

test('for another product: conditions, name and words, but not the keys', () => {
  const copy = forProduct(definition, book, other, [brush, book])
  expect(definitionSchema.parse(copy)).toEqual(copy)
  expect(copy.name).toBe('By product: Costs $& Queens')
  expect(copy.trigger.filter).toMatchObject({ field: 'line.product', value: ['book-2'] })
  expect(copy.steps[0]).toMatchObject({
    key: 'book-1',
    subject: 'Before Costs $& Queens arrives',
    body: 'You will like Costs $& Queens. Costs $& Queens is {{ line.title }}.',
  })
  expect(productsIn(copy, [book, other])).toEqual([other])
  expect(forProduct(copy, other, book, [])).toEqual(definition)
})

test('titles are taken as a whole: none is found within a longer one, or within a word', () => {
  const tool = { id: 'p2', title: 'Hive tool' }
  const long = { id: 'p3', title: 'Hive tool (J-shaped), 10"' }
  const shop = [tool, long, brush]
  const about = (body: string) => aDefinition({ steps: [anEmail('m', { subject: 'Hello', body })] })
  const both = about('Your Hive tool (J-shaped), 10" and the Hive tool. Hive toolbox! hive tool')
  expect(productsIn(about('Your Hive tool (J-shaped), 10" is here'), shop)).toEqual([long])
  expect(productsIn(about('Hive toolbox'), shop)).toEqual([])
  expect(productsIn(about('Hello'), [{ id: 'p4', title: '' }])).toEqual([])
  expect(productsIn(both, shop)).toEqual([tool, long])
  expect(forProduct(both, tool, brush, shop).steps[0]).toMatchObject({
    body: 'Your Hive tool (J-shaped), 10" and the Bee brush. Hive toolbox! hive tool',
  })
  expect(forProduct(both, long, brush, shop).steps[0]).toMatchObject({
    body: 'Your Bee brush and the Hive tool. Hive toolbox! hive tool',
  })
})
