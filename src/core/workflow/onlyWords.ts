import { isMessageChannel } from '../channels/catalogue.ts'
import type { Definition } from './definition.ts'

/** What of a message is for its reader's eyes. Who gets it, from whom and when is everything else. */
const WORDS: ReadonlySet<string> = new Set([
  'name',
  'subject',
  'previewText',
  'body',
  'format',
  'blocks',
  'design',
  'writtenIn',
  'translations',
])

/** Whether two workflows send the same messages to the same people at the same moments, whatever stands in them. */
export const differOnlyInWords = (one: Definition, other: Definition): boolean =>
  JSON.stringify(withoutWords(one)) === JSON.stringify(withoutWords(other))

function withoutWords(part: unknown): unknown {
  if (Array.isArray(part)) return part.map(withoutWords)
  if (typeof part !== 'object' || part === null) return part
  const { kind } = part as { kind?: unknown }
  const isMessage = 'key' in part && typeof kind === 'string' && isMessageChannel(kind)
  const kept = Object.entries(part)
    .filter(([name]) => !(isMessage && WORDS.has(name)))
    .map(([name, value]) => [name, withoutWords(value)] as const)
  // The order of its parts says nothing.
  return Object.fromEntries(kept.toSorted(([one], [other]) => (one < other ? -1 : 1)))
}
