import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/max'

/** Kinds of numbers that no text message reaches. */
const NOT_FOR_TEXTS: ReadonlySet<string> = new Set(['FIXED_LINE', 'TOLL_FREE', 'PREMIUM_RATE', 'VOIP', 'PAGER', 'UAN', 'VOICEMAIL', 'SHARED_COST']) // prettier-ignore

/** A number as E.164 has it, and whether a text message can reach it. */
export interface Phone {
  number: string
  takesTexts: boolean
}

/**
 * Reads a phone number ("+351912345678"). One written as within a country has to exist in that
 * country's plan, so that no stranger is written to; one with its country's code has to be possible,
 * since plans change. Null for anything else.
 */
export function readPhone(text: string, country: string | null): Phone | null {
  // Where no country says how it dials abroad, 00 does (ITU-T E.164).
  const dialled = country === null ? text.replace(/^\s*00/, '+') : text
  const parsed = parsePhoneNumberFromString(
    dialled,
    (country ?? undefined) as CountryCode | undefined,
  )
  if (!parsed) return null
  const isInternational = /^\s*(?:tel:)?(?:\+|＋|00|011)/.test(text)
  const isRight = isInternational ? parsed.isPossible() : parsed.isValid()
  if (!isRight) return null
  return { number: parsed.number, takesTexts: !NOT_FOR_TEXTS.has(parsed.getType() ?? '') }
}
