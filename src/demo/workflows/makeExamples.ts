import { findExamples } from '../../core/rehearsal/exampleSet.ts'
import { exampleName } from '../../core/words/exampleWords.ts'
import type { WordContext } from '../../core/words/conditions.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Example } from '../../core/workflow/example.ts'
import { subjectSchema } from '../../core/workflow/rehearsalSubject.ts'
import { PRODUCTS } from '../catalogue.ts'
import { DEMO_FACTS } from '../shopFacts.ts'

const products = PRODUCTS.map(({ id, title, category, priceMinor }) => ({ productId: id, title, category, quantity: 1, unitPriceMinor: priceMinor })) // prettier-ignore
const titles = new Map(PRODUCTS.map(({ id, title }) => [id, title]))

/** Somebody new on a spring morning, with the first thing of the catalogue. */
const start = subjectSchema.parse({
  at: '2026-04-14T10:05:00Z',
  customer: { firstName: 'Marta', country: null, zone: null, emailConsent: true, smsConsent: true, hasPhone: true, tags: [] },
  earlier: [],
  lines: products.slice(0, 1),
  stars: 5,
  dateInDays: 30,
  between: [],
}) // prettier-ignore

/** Examples for each way through a workflow of the demo; `names` are those of all workflows, by what conditions call them. */
export function makeExamples(definition: Definition): Example[] {
  const context: WordContext = { locale: DEMO_FACTS.locale, zone: DEMO_FACTS.zone, titleOf: (kind, id) => (kind === 'products' ? titles.get(id) : undefined) } // prettier-ignore
  const nameOf = (target: Parameters<typeof exampleName>[0]) => exampleName(target, definition, context) // prettier-ignore
  const search = findExamples({ definition: { ...definition, examples: [] }, start, products, shop: DEMO_FACTS, nameOf }) // prettier-ignore
  let step = search.next()
  while (!step.done) step = search.next()
  return step.value
}
