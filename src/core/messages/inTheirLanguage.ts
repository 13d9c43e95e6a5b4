import type { Facts } from '../events/facts.ts'
import { inLanguageOf, toldIn } from './formats.ts'
import { inLanguage, languageOf, type Translated } from './languages.ts'

/**
 * A message in the language in which it reaches somebody, or in one that is looked at, and the facts as it tells of
 * them. One that is written in a single language stays as it is.
 */
export function inTheirLanguage<Message extends Translated>(
  message: Message,
  facts: Facts,
  wanted?: string,
): { step: Message; facts: Facts } {
  if (Object.keys(message.translations ?? {}).length === 0) {
    return { step: message, facts: inLanguageOf(message, facts) }
  }
  const language = wanted ?? languageOf(message, facts)
  return { step: inLanguage(message, language), facts: toldIn(language, facts) }
}
