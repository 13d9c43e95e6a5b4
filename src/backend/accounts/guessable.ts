import { dictionary } from '@zxcvbn-ts/language-common'

/** What stood most often in collections of leaked passwords: 49,000 of them (OWASP ASVS 4.0.3, 2.1.7, from memory, asks for 1,000 at least). */
const LEAKED: ReadonlySet<unknown> = new Set(dictionary.passwords)
/** With what people begin who try passwords. */
const TRIED = ['password', 'passwort', 'qwerty', 'letmein', 'welcome', 'yomble', '1234567890', '123456', '12345', 'abcdef'] // prettier-ignore
const LEAST_CHARACTERS = 4

/**
 * True of a password that has leaked, and where little is left of one without what everybody would try, and what is known of whose it is: their name, their
 * address. What it is made of is otherwise nobody's business (OWASP ASVS 4.0.3, 2.1.9, from memory).
 */
export function isGuessable(
  password: string,
  { email, name }: { email: string; name: string },
): boolean {
  const typed = password.toLowerCase()
  // Also with a year or an exclamation mark behind it.
  if (LEAKED.has(typed) || LEAKED.has(typed.replace(/[\d\W_]+$/, ''))) return true
  const known = [...email.split(/[@.]/), ...name.split(/\s+/), ...TRIED]
    .map((word) => word.toLowerCase())
    .filter((word) => word.length >= 3)
    .toSorted((a, b) => b.length - a.length)
  const rest = known.reduce((left, word) => left.replaceAll(word, ''), typed)
  return new Set(rest).size < LEAST_CHARACTERS
}
