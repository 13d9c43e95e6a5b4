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
  'lottery',
  'field',
  'op',
  'event',
])

/** The products that a workflow speaks of: asked for in its conditions, or named in its words. */
export function productsIn(definition: Definition, products: readonly Product[]): Product[] {
  const found = new Set<string>()
  const titles = titlesIn(products)
  mapTexts(definition, (text) => {
    if (text !== '') found.add(text)
    for (const [title] of text.matchAll(titles)) found.add(title)
    return text
  })
  return products.filter(({ id, title }) => found.has(id) || found.has(title))
}

/**
 * The same workflow for another product: in its conditions, its name and all it says. Of all
 * `products` of the shop, those whose titles hold that of the first stay what they are.
 */
export function forProduct(
  definition: Definition,
  from: Product,
  to: Product,
  products: readonly Product[],
): Definition {
  const titles = titlesIn([from, ...products])
  return mapTexts(definition, (text) =>
    text === from.id
      ? to.id
      : text.replaceAll(titles, (title) => (title === from.title ? to.title : title)),
  ) as Definition
}

/** Finds titles as whole words; where one holds another, the longer one. */
function titlesIn(products: readonly Product[]): RegExp {
  const titles = products
    .map(({ title }) => title)
    .filter((title) => title !== '')
    .toSorted((a, b) => b.length - a.length)
    .map((title) => title.replaceAll(/[$()*+.?[\\\]^{|}]/g, String.raw`\$&`))
  // Nothing is found where there are none.
  const any = titles.length > 0 ? titles.join('|') : '(?!)'
  return new RegExp(String.raw`(?<![\p{L}\p{N}])(?:${any})(?![\p{L}\p{N}])`, 'gu')
}

function mapTexts(value: unknown, change: (text: string) => string): unknown {
  if (typeof value === 'string') return change(value)
  if (Array.isArray(value)) return value.map((one) => mapTexts(one, change))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => [key, NAMES.has(key) ? one : mapTexts(one, change)]),
  )
}
