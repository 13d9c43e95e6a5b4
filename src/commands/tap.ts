import type { ShopFacts } from '../core/events/facts.ts'
import { checkExamples } from '../core/rehearsal/examples.ts'
import type { Definition } from '../core/workflow/definition.ts'
import { differenceWords } from '../core/words/exampleWords.ts'

/** A workflow from a file. */
export interface Document {
  file: string
  definition: Definition
}

/**
 * Goes through the examples of some workflows and writes what came of it as other tools read it: Test Anything Protocol,
 * version 14 (testanything.org), with what differs as YAML. `failed` counts what does not come out as kept.
 */
export function tapReport(
  documents: readonly Document[],
  shop: ShopFacts,
): { lines: string[]; failed: number } {
  const results = documents.flatMap(({ definition }) =>
    checkExamples(definition, shop).map(({ example, zone, differences }) => ({
      name: `${definition.name || 'Unnamed workflow'}: ${example.name}`,
      differences: differences.map((one) => differenceWords(one, definition, zone)),
    })),
  )
  const lines = results.flatMap(({ name, differences }, index) => {
    const described = `${index + 1} - ${escaped(name)}`
    return differences.length === 0
      ? [`ok ${described}`]
      : [`not ok ${described}`, '  ---', '  differences:', ...differences.map((one) => `    - ${JSON.stringify(one)}`), '  ...'] // prettier-ignore
  })
  return {
    lines: ['TAP version 14', `1..${results.length}`, ...lines],
    failed: results.filter(({ differences }) => differences.length > 0).length,
  }
}

/** `#` would begin a directive (TAP 14, "Escaping"). */
const escaped = (text: string): string =>
  text
    .replaceAll('\\', '\\\\')
    .replaceAll('#', String.raw`\#`)
    .replaceAll(/\s+/g, ' ')
