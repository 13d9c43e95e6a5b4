import type { Definition } from './definition.ts'

export interface Product {
  id: string
  title: string
}

/** Parts of a document that are names within it, and no words about products. */
const NAMES: ReadonlySet<string> = new Set([
  'key',
  'kind',
  'format',
  'draw',
  'field',
  'op',
  'event',
])

/** The products that a workflow speaks of: asked for in its conditions, or named in its words. */
export function productsIn(definition: Definition, products: readonly Product[]): Product[] {
  const texts: string[] = []
  mapTexts(definition, (text) => {
    texts.push(text)
    return text
  })
  return products.filter(({ id, title }) =>
    texts.some((text) => text === id || text.includes(title)),
  )
}

/** The same workflow for another product: in its conditions, its name and all it says. */
export function forProduct(definition: Definition, from: Product, to: Product): Definition {
  return mapTexts(definition, (text) =>
    text === from.id ? to.id : text.replaceAll(from.title, () => to.title),
  ) as Definition
}

function mapTexts(value: unknown, change: (text: string) => string): unknown {
  if (typeof value === 'string') return change(value)
  if (Array.isArray(value)) return value.map((one) => mapTexts(one, change))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => [key, NAMES.has(key) ? one : mapTexts(one, change)]),
  )
}
