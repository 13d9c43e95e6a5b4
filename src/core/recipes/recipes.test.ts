import { describe, expect, test } from 'vitest'
import { crossFindings } from '../check/shop/crossFindings.ts'
import { goLiveFindings } from '../check/goLive.ts'
import { definitionSchema } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { afterDispatch } from './afterDispatch.ts'
import { RECIPES } from './index.ts'

const shop = {
  name: 'Combwright',
  currency: 'EUR',
  sender: { name: 'Maren', address: 'maren@combwright.example' },
  categories: ['Hives & frames', 'Protective wear', 'Books'],
  groups: ['care', 'founder'],
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

test('advice after dispatch goes by the shop’s own categories; with one, everybody gets the same', () => {
  const names = (categories: string[]) =>
    afterDispatch
      .make({ ...shop, categories })
      .steps.flatMap((step) => (step.kind === 'split' ? step.branches.map(({ name }) => name) : []))
  expect(names(['Honey', 'Candles', 'Soap'])).toEqual(['Honey and Candles', 'Honey', 'Candles'])
  expect(names(['Honey'])).toEqual([])
})

const recipe = (key: string, over: Partial<typeof shop> = {}) => {
  const found = RECIPES.find((one) => one.key === key)
  if (!found) throw new Error(`There is no recipe ${key}`)
  return found.make({ ...shop, ...over })
}

test('the other category is offered to those only who never bought of it', () => {
  const offers = allSteps(recipe('after-dispatch').steps).flatMap((step) =>
    step.kind === 'email' && step.onlyIf ? [[step.key, step.onlyIf]] : [],
  )
  const never = (value: string) => ({
    kind: 'lines',
    on: 'orders',
    how: 'none',
    of: [{ kind: 'field', field: 'line.category', op: 'is', value }],
  })
  expect(offers).toEqual([
    ['other-1', never('Protective wear')],
    ['other-2', never('Hives & frames')],
  ])
})

test('notes go to the groups of staff at once; without any to whom the shop writes from', () => {
  const notes = (groups: string[]) =>
    allSteps(recipe('large-order', { groups }).steps).flatMap((step) =>
      step.kind === 'note' ? [[step.to, step.groups]] : [],
    )
  expect(notes(['care', 'founder', 'ware'])).toEqual([[[], ['care', 'founder']]])
  expect(notes([])).toEqual([[['maren@combwright.example'], undefined]])
})

test('what a workflow about a product asks is its line, so that another product is another line', () => {
  const { trigger } = recipe('by-product')
  expect(trigger).toMatchObject({
    per: 'line',
    filter: { field: 'line.product', value: 'p-brush' },
  })
})
