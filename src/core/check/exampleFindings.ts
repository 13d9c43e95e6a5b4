import type { ShopFacts } from '../events/facts.ts'
import { checkExamples } from '../rehearsal/examples.ts'
import { differenceWords } from '../words/exampleWords.ts'
import { plural } from '../words/quantities.ts'
import type { Definition } from '../workflow/definition.ts'
import { stops, type Finding } from './finding.ts'

/** They are looked at and answered in the rehearsal. */
export const EXAMPLES_DIFFER = 'examples-differ'

/**
 * Examples that no longer come out as they were kept. Only for what has no errors of its own: what is not finished
 * cannot be gone through.
 */
export function exampleFindings(definition: Definition, shop: ShopFacts): Finding[] {
  const differing = checkExamples(definition, shop).filter(
    ({ differences }) => differences.length > 0,
  )
  if (differing.length === 0) return []
  const title = `${plural(differing.length, 'example')} no longer ${differing.length === 1 ? 'comes' : 'come'} out as kept.`
  const detail = differing.map(({ example, zone, differences }) => {
    return `“${example.name}” ${differences.map((one) => differenceWords(one, definition, zone)).join(', ')}.`
  })
  return [stops(EXAMPLES_DIFFER, { kind: 'workflow' }, title, `${detail.join(' ')} Say in the rehearsal that it is meant so, or mend the workflow.`)] // prettier-ignore
}
