import { describe, expect, test } from 'vitest'
import { crossFindings } from '../check/crossFindings.ts'
import { goLiveFindings } from '../check/goLive.ts'
import { definitionSchema } from '../workflow/definition.ts'
import { RECIPES } from './index.ts'

const shop = {
  name: 'Combwright',
  currency: 'EUR',
  sender: { name: 'Maren', address: 'maren@combwright.example' },
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
