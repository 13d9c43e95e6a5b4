import { useQuery } from '@tanstack/react-query'
import { clockResponse } from '../../../contract/session.ts'
import { findExamples } from '../../../core/rehearsal/exampleSet.ts'
import { exampleName } from '../../../core/words/exampleWords.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useProducts } from '../../ui/data/useProducts.ts'
import { firstSubject, lineOf } from '../rehearsal/firstSubject.ts'
import { useShopFacts } from '../rehearsal/useShopFacts.ts'
import { inSlices } from '../rehearsal/useSlices.ts'
import { useWords } from '../../ui/data/words.tsx'

/** For each way so many are tried at most: nobody waits for a recipe longer than a second or two. */
const MOST_TRIES = 300

/**
 * Gives a workflow the examples that go through it, with the shop's own products and rules. It comes without them where
 * these are not known, or where it cannot be run yet.
 */
export function useTryOut(): (definition: Definition) => Promise<Definition> {
  const words = useWords()
  const products = useProducts()
  const { facts } = useShopFacts()
  const { data: clock } = useQuery({
    queryKey: ['clock'],
    queryFn: () => getJson('/api/clock', clockResponse),
  })
  return async (definition) => {
    if (!facts || !clock) return definition
    const own = products.filter(({ currency }) => currency === facts.currency)
    try {
      const examples = await inSlices(
        findExamples({
          definition,
          start: firstSubject(clock.now, products, facts.currency, definition.trigger),
          products: own.map((one) => lineOf(one)),
          shop: facts,
          nameOf: (target) => exampleName(target, definition, words),
          mostTries: MOST_TRIES,
        }),
      )
      return { ...definition, examples }
    } catch (error) {
      // The compiler refuses what is not finished: that is mended in the draft.
      if (error instanceof RangeError) return definition
      throw error
    }
  }
}
