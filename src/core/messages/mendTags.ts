import { distance } from 'fastest-levenshtein'
import { MERGE_FIELDS, type MergeField } from './mergeFields.ts'

/** The tag of a merge field with all that follows its key. */
const tagsOf = (key: string): RegExp =>
  new RegExp(
    String.raw`(\{\{-?\s*)${key.replaceAll('.', String.raw`\.`)}(?![\w.])([^}]*)(\}\})`,
    'g',
  )

/** A template in which something stands for a merge field where it is unknown, wherever nothing does yet. */
export function withFallback(template: string, key: string, words: string): string {
  return template.replaceAll(tagsOf(key), (tag, open: string, filters: string, close: string) =>
    /\|\s*default\s*:/.test(filters)
      ? tag
      : `${open}${key} | default: "${words}"${filters.startsWith(' ') ? '' : ' '}${filters}${close}`,
  )
}

/** A template with one merge field in the place of another. */
export function withKey(template: string, from: string, to: string): string {
  return template.replaceAll(tagsOf(from), `$1${to}$2$3`)
}

/** A template in which a merge field is written in the usual way. */
export function withoutFormat(template: string, key: string): string {
  return template.replaceAll(
    tagsOf(key),
    (_tag, open: string, filters: string, close: string) =>
      `${open}${key}${filters.replaceAll(/\s*\|\s*as\s*:\s*("[^"]*"|'[^']*')/g, '')}${close}`,
  )
}

/** How many letters may differ between what was written and what was meant. */
const TYPING_ERRORS = 2

/**
 * The merge field that was meant by a key that is none: the same but for its signs and a letter or two,
 * or its name. Null when none is near, or several are.
 */
export function meantField(
  key: string,
  isOffered: (field: MergeField) => boolean,
): MergeField | null {
  const written = lettersOf(key)
  const offered = MERGE_FIELDS.filter(isOffered)
  const byName = offered.filter(
    (field) => lettersOf(field.key) === written || lettersOf(field.label) === written,
  )
  if (byName[0]) return byName[0]
  const near = offered.filter((field) => distance(lettersOf(field.key), written) <= TYPING_ERRORS)
  return near.length === 1 ? (near[0] ?? null) : null
}

const lettersOf = (text: string): string => text.toLowerCase().replaceAll(/[^\p{L}\p{N}]/gu, '')
