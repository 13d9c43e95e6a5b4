import { describe, expect, test } from 'vitest'
import { checkExamples, coverage, exampleOf, type Reachable } from '../core/rehearsal/examples.ts'
import { rehearse } from '../core/rehearsal/rehearse.ts'
import { findWitness } from '../core/rehearsal/witness.ts'
import type { Definition } from '../core/workflow/definition.ts'
import { subjectSchema, type Subject } from '../core/workflow/rehearsalSubject.ts'
import { facts } from '../testing/coreFacts.ts'
import { PRODUCTS } from './catalogue.ts'
import { LIVE_WORKFLOWS } from './workflows/index.ts'

const SHOP = facts().shop
const products = PRODUCTS.map(({ id, title, category, priceMinor }) => ({ productId: id, title, category, quantity: 1, unitPriceMinor: priceMinor })) // prettier-ignore
const start = subjectSchema.parse({
  at: '2026-04-14T10:05:00Z',
  customer: { firstName: 'Marta', country: null, zone: null, emailConsent: true, smsConsent: true, hasPhone: true, tags: [] },
  earlier: [],
  lines: products.slice(0, 1),
  stars: 5,
  dateInDays: 30,
  between: [],
}) // prettier-ignore

function witnessOf(definition: Definition, target: Reachable): Subject | null {
  const search = findWitness({ definition, target, start, products, shop: SHOP })
  let step = search.next()
  while (!step.done) step = search.next()
  return step.value
}

/** An order that is undone between its booking and its class, a trial that is over before it ends, an old order that is undone within days. */
const TOO_RARE = new Set([
  'Before a class undone',
  'After the trial not-active',
  'Time for more: Smoker pellets, 2 kg cancelled',
  'Time for more: Smoker pellets, 2 kg refunded',
])

describe('somebody is found for every path and exclusion, and kept as an example', () => {
  test.each(LIVE_WORKFLOWS.map((definition) => [definition.name, definition] as const))('%s', (name, definition) => {
    const { missing } = coverage(definition, [])
    const examples = missing.flatMap((target, index) => {
      const subject = witnessOf(definition, target)
      if (subject === null) {
        expect(TOO_RARE, `${name} ${JSON.stringify(target)}`).toContain(`${name} ${target.kind === 'exclusion' ? target.key : ''}`)
        return []
      }
      const told = rehearse(definition, subject, SHOP)
      return exampleOf(`e${index}`, 'Found', { subject, definition, told })
    })
    const checked = checkExamples({ ...definition, examples }, SHOP)
    expect(checked.flatMap(({ differences }) => differences)).toEqual([])
    expect(coverage(definition, checked).missing.length).toBe(missing.length - examples.length)
  })
}) // prettier-ignore
