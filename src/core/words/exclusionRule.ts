import type { Definition } from '../workflow/definition.ts'
import { conditionWords, type WordContext } from './conditions.ts'

/** What an exclusion asks, in words; of one that this version no longer has, its key. */
export function exclusionRule(
  key: string,
  { exclusions }: Pick<Definition, 'exclusions'>,
  context: WordContext,
): string {
  const exclusion = exclusions.find((one) => one.key === key)
  return exclusion ? conditionWords(exclusion.when, context) : key
}
