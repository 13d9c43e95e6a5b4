/**
 * Half of a pair of UTF-16 surrogates without the other half, or a control character that is neither a
 * tab nor the end of a line. Neither PostgreSQL nor JSON for other programs can hold them all, and no
 * name, title or text has a use for them.
 */
const ODD =
  // The control characters are what this is about.
  // oxlint-disable-next-line no-control-regex
  /[\u0000-\u0008\u000B\u000C\u000E-\u001F\u007F-\u009F]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/

const ALL_ODD = new RegExp(ODD.source, 'g')
const REPLACEMENT = '\uFFFD'

/** True for a text with characters that cannot be kept: it is no id of anything. */
export function hasOddCharacters(text: string): boolean {
  return ODD.test(text)
}

/** A text that people have written, with U+FFFD in the place of each character that cannot be kept. */
export function cleanText(text: string): string {
  return ODD.test(text) ? text.replaceAll(ALL_ODD, REPLACEMENT) : text
}

/** A JSON value with all texts in it cleaned, names of parts included. */
export function cleanTexts(value: unknown): unknown {
  if (typeof value === 'string') return cleanText(value)
  if (Array.isArray(value)) return value.map(cleanTexts)
  if (value === null || typeof value !== 'object') return value
  return Object.fromEntries(
    Object.entries(value).map(([name, part]) => [cleanText(name), cleanTexts(part)]),
  )
}
