import { describe, expect, test } from 'vitest'
import { crossFindings } from '../check/crossFindings.ts'
import { goLiveFindings } from '../check/goLive.ts'
import { definitionSchema } from '../workflow/definition.ts'
import { afterDispatch } from './afterDispatch.ts'
import { RECIPES } from './index.ts'

const shop = {
  name: 'Combwright',
  currency: 'EUR',
  sender: { name: 'Maren', address: 'maren@combwright.example' },
  collections: ['Hives & frames', 'Protective wear', 'Books'],
  product: { id: 'p-brush', title: 'Bee brush' },
}
const made = RECIPES.map(({ key, make }) => ({ id: key, definition: make(shop) }))

describe.each(made)('$id', ({ id, definition }) => {
  test('is a valid document that the go-live check has nothing against', () => {
    expect(definitionSchema.parse(definition)).toEqual(definition)
    expect(goLiveFindings(definition)).toEqual([])
  })
  test('gets in the way of none of the others', () => {
    const others = made.map((one) => ({ ...one, name: one.definition.name }))
    expect(crossFindings(definition, id, others)).toEqual([])
  })
})

test('advice after dispatch goes by the shop’s own collections; with one, everybody gets the same', () => {
  const names = (collections: string[]) =>
    afterDispatch
      .make({ ...shop, collections })
      .steps.flatMap((step) => (step.kind === 'split' ? step.branches.map(({ name }) => name) : []))
  expect(names(['Honey', 'Candles', 'Soap'])).toEqual(['Honey and Candles', 'Honey', 'Candles'])
  expect(names(['Honey'])).toEqual([])
})
