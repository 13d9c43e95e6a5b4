import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aDefinition, ordersEver, START } from '../../testing/builders.ts'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { compileCondition } from '../conditions/compile.ts'
import { withContentsPath } from './contentsPath.ts'
import { definitionSchema, type Definition } from './definition.ts'
import type { SplitBranch, SplitStep } from './steps.ts'

const SPLIT: SplitStep = {
  key: 's',
  kind: 'split',
  branches: [{ key: 'b', name: 'Second order', when: ordersEver(2), steps: [] }],
  otherwise: [],
}
const EMPTY = aDefinition({ steps: [SPLIT] })

const branchesOf = ({ steps: [split] }: Definition): SplitBranch[] => (split as SplitStep).branches

/** The path that an order of these categories takes. */
function taken(definition: Definition, categories: readonly string[]): string | undefined {
  const lines = categories.map((category, index) => aLine({ productId: `p${index}`, category }))
  const asked = { facts: facts({ order: { lines } }), enteredAt: START }
  return branchesOf(definition).find(({ when }) => compileCondition(when).holds(asked))?.key
}

const NAMES = ['Hives & frames', 'Protective wear', 'Tools & smokers', 'Books', 'Feed']
const combinations = fc.array(fc.subarray(NAMES, { minLength: 1 }), { minLength: 1, maxLength: 15 })

describe('a path for what is ordered together', () => {
  test('whatever they are made in the order of, each is taken by exactly what it was made for (property)', () => {
    fc.assert(
      fc.property(combinations, (wanted) => {
        let definition = EMPTY
        const paths = wanted.map((categories) => {
          const made = withContentsPath(definition, 's', categories)
          definition = made.definition
          return { categories, branch: made.branch }
        })
        for (const { categories, branch } of paths) {
          expect(taken(definition, categories)).toBe(branch)
        }
        expect(definitionSchema.safeParse(definition).error).toBeUndefined()
      }),
    )
  })

  test('stands below those that ask for more, above what asks something else', () => {
    const both = withContentsPath(EMPTY, 's', ['Books', 'Feed'])
    const one = withContentsPath(both.definition, 's', ['Feed'])
    expect(branchesOf(one.definition).map(({ name }) => name)).toEqual([
      'Books and Feed',
      'Feed',
      'Second order',
    ])
  })

  test('is not made twice', () => {
    const first = withContentsPath(EMPTY, 's', ['Books', 'Feed'])
    const again = withContentsPath(first.definition, 's', ['Feed', 'Books'])
    expect(again).toEqual(first)
    expect(again.definition).toBe(first.definition)
  })

  test('is there already where a path asks for any of that one', () => {
    const any = {
      kind: 'field',
      field: 'order.categories',
      op: 'hasAny',
      value: ['Feed'],
    } as const
    const branch = { key: 'feed', name: 'Feed', when: { ...any, value: ['Feed'] }, steps: [] }
    const definition = aDefinition({ steps: [{ ...SPLIT, branches: [branch] }] })
    expect(withContentsPath(definition, 's', ['Feed'])).toEqual({ definition, branch: 'feed' })
    const more = withContentsPath(definition, 's', ['Books', 'Feed'])
    expect(branchesOf(more.definition).map(({ name }) => name)).toEqual(['Books and Feed', 'Feed'])
  })

  test('is called after as many of them as a name has room for', () => {
    const many = Array.from({ length: 12 }, (_, index) => `Category number ${index}`)
    const { definition } = withContentsPath(EMPTY, 's', many)
    const [branch] = branchesOf(definition)
    expect(branch?.name).toMatch(/^Category number 0 and .* and \d more$/)
    expect(definitionSchema.safeParse(definition).error).toBeUndefined()
    const [long] = branchesOf(withContentsPath(EMPTY, 's', ['x'.repeat(200)]).definition)
    expect(long?.name).toHaveLength(120)
  })

  test('cannot be made where nothing splits', () => {
    expect(() => withContentsPath(EMPTY, 'nowhere', ['Books'])).toThrow(RangeError)
  })
})
