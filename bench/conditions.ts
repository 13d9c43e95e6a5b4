import { Engine, type RuleProperties } from 'json-rules-engine'
import { compileCondition } from '../src/core/conditions/compile.ts'
import type { CompiledCondition } from '../src/core/conditions/compiled.ts'
import type { Condition } from '../src/core/conditions/condition.ts'
import type { Facts } from '../src/core/events/facts.ts'
import { facts } from '../src/testing/coreFacts.ts'
import { seededRandom } from '../src/core/shared/seededRandom.ts'
import { perSecond, report } from './measure.ts'

const SUBJECTS = 500
const ROUNDS_OF_OURS = 200
/** Both are timed so often, by turns, and the best of each counts: the machine has other things to do. */
const TURNS = 6

/** Rules as a marketer would write them, once in our language and once in the library's. */
const RULES: { name: string; ours: Condition; theirs: RuleProperties['conditions'] }[] = [
  {
    name: 'large order from the neighbours',
    ours: {
      kind: 'all',
      of: [
        {
          kind: 'field',
          field: 'order.total',
          op: 'gte',
          value: { amountMinor: 5000, currency: 'EUR' },
        },
        { kind: 'field', field: 'order.shippingCountry', op: 'in', value: ['PT', 'ES', 'FR'] },
        { kind: 'field', field: 'order.paymentMethod', op: 'is', value: 'card' },
      ],
    },
    theirs: {
      all: [
        { fact: 'currency', operator: 'equal', value: 'EUR' },
        { fact: 'totalMinor', operator: 'greaterThanInclusive', value: 5000 },
        { fact: 'shippingCountry', operator: 'in', value: ['PT', 'ES', 'FR'] },
        { fact: 'paymentMethod', operator: 'equal', value: 'card' },
      ],
    },
  },
  {
    name: 'hives or honey, but not both kinds of consent',
    ours: {
      kind: 'all',
      of: [
        { kind: 'field', field: 'order.categories', op: 'hasAny', value: ['Hives', 'Honey'] },
        {
          kind: 'any',
          of: [
            { kind: 'field', field: 'customer.emailConsent', op: 'is', value: false },
            { kind: 'field', field: 'customer.smsConsent', op: 'is', value: false },
          ],
        },
      ],
    },
    theirs: {
      all: [
        {
          any: [
            { fact: 'categories', operator: 'contains', value: 'Hives' },
            { fact: 'categories', operator: 'contains', value: 'Honey' },
          ],
        },
        {
          any: [
            { fact: 'emailConsent', operator: 'equal', value: false },
            { fact: 'smsConsent', operator: 'equal', value: false },
          ],
        },
      ],
    },
  },
  {
    name: 'many small things, not to the north',
    ours: {
      kind: 'all',
      of: [
        { kind: 'field', field: 'order.items', op: 'gt', value: 3 },
        { kind: 'not', of: { kind: 'field', field: 'customer.country', op: 'in', value: ['FI', 'SE'] } },
        { kind: 'not', of: { kind: 'field', field: 'customer.tags', op: 'hasAny', value: ['club'] } },
      ],
    },
    theirs: {
      all: [
        { fact: 'items', operator: 'greaterThan', value: 3 },
        { not: { fact: 'country', operator: 'in', value: ['FI', 'SE'] } },
        { not: { fact: 'tags', operator: 'contains', value: 'club' } },
      ],
    },
  },
] // prettier-ignore

/** The core's conditions beside a rule library's, on the same rules and facts, with the same answers. */
export async function measureConditions(): Promise<void> {
  const subjects = someFacts()
  const compiled = RULES.map(({ ours }) => compileCondition(ours))
  const answers = subjects.map((one) =>
    compiled.map((condition) => condition.holds({ facts: one, enteredAt: one.now })),
  )
  const engine = new Engine(
    RULES.map(({ name, theirs }) => ({ name, conditions: theirs, event: { type: name } })),
  )
  const plain = subjects.map(plainFacts)
  for (const [index, one] of plain.entries()) {
    const { results } = await engine.run(one)
    const held = new Set(results.map(({ name }) => name))
    RULES.forEach(({ name }, rule) => {
      if (held.has(name) !== answers[index]?.[rule])
        throw new Error(`The answers to "${name}" differ for subject ${index}`)
    })
  }
  const asked = subjects.length * RULES.length
  const expected = answers.flat().filter(Boolean).length
  let [ours, theirs] = [0, 0]
  for (let turn = 0; turn < TURNS; turn += 1) {
    const library = await perSecond(asked, async () => {
      for (const one of plain) await engine.run(one)
    })
    const core = await perSecond(asked * ROUNDS_OF_OURS, () => {
      let held = 0
      for (let round = 0; round < ROUNDS_OF_OURS; round += 1) held += countHeld(compiled, subjects)
      if (held !== expected * ROUNDS_OF_OURS) throw new Error('The answers changed under way')
    })
    theirs = Math.max(theirs, library)
    ours = Math.max(ours, core)
  }
  report('conditions asked in the core', ours, 'json-rules-engine, same rules', theirs)
}

function countHeld(conditions: readonly CompiledCondition[], subjects: readonly Facts[]): number {
  let held = 0
  for (const one of subjects) {
    const asked = { facts: one, enteredAt: one.now }
    for (const condition of conditions) if (condition.holds(asked)) held += 1
  }
  return held
}

function someFacts(): Facts[] {
  const { between, chance, pick } = seededRandom(7)
  return Array.from({ length: SUBJECTS }, () => {
    const base = facts()
    const [line] = base.order?.lines ?? []
    if (!line) throw new RangeError('The order of the base facts has no lines')
    const lines = Array.from({ length: between(1, 4) }, () => ({
      ...line,
      category: pick(['Hives', 'Honey', 'Tools & smokers', 'Protective wear']),
      quantity: between(1, 3),
    }))
    return facts({
      order: {
        totalMinor: between(0, 10_000),
        currency: pick(['EUR', 'EUR', 'GBP']),
        shippingCountry: pick(['PT', 'ES', 'DE', 'FI']),
        paymentMethod: pick(['card', 'card', 'invoice']),
        lines,
      },
      customer: {
        country: pick(['PT', 'FI', 'SE', 'DE']),
        tags: chance(0.5) ? ['club'] : [],
      },
      channels: { email: { consent: chance(0.5) }, sms: { consent: chance(0.5) } },
    })
  })
}

/** The facts without nesting, as suits the library best. */
function plainFacts({ order, customer }: Facts): Record<string, unknown> {
  const lines = order?.lines ?? []
  return {
    totalMinor: order?.totalMinor,
    currency: order?.currency,
    shippingCountry: order?.shippingCountry,
    paymentMethod: order?.paymentMethod,
    categories: lines.map(({ category }) => category),
    items: lines.reduce((sum, { quantity }) => sum + quantity, 0),
    country: customer.country,
    emailConsent: customer.channels.email.consent,
    smsConsent: customer.channels.sms.consent,
    tags: customer.tags,
  }
}
