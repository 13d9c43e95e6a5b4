/** How a text message travels: in which alphabet, and in how many parts. */
export interface SmsSegments {
  /** Seven bits a character, or sixteen for texts with anything outside that alphabet. */
  encoding: 'gsm7' | 'ucs2'
  /** Septets of GSM 7 bit, or 16-bit units of UCS-2. */
  units: number
  /** The units in each part. Empty for an empty text. */
  parts: number[]
  /** How many more units the last part takes before there is one more. */
  left: number
  /** The characters for which the text needs sixteen bits, each once. */
  outside: string[]
}

/** The basic alphabet: 3GPP TS 23.038 section 6.2.1, without the escape. */
const BASIC = new Set(
  '@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !"#¤%&\'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà',
)
/** Its extension, section 6.2.1.1: an escape and a character, two septets. */
const EXTENSION = new Set('\f^{}\\[~]|€')

/**
 * 140 octets, less the six of the header with which parts find together again (3GPP TS 23.040
 * section 9.2.3.24.1, 8-bit reference).
 */
const LIMITS = { gsm7: { alone: 160, part: 153 }, ucs2: { alone: 70, part: 67 } } as const

/**
 * Counts a text as it goes out, after merge fields and links have been put in. A character of two
 * units is never divided between two parts, which can leave one unit of a part empty.
 */
export function smsSegments(text: string): SmsSegments {
  // By code points: what an alphabet is made of.
  const characters = Array.from(text)
  const outside = characters.filter((one) => !BASIC.has(one) && !EXTENSION.has(one))
  const encoding = outside.length === 0 ? 'gsm7' : 'ucs2'
  const sizes = characters.map((one) =>
    encoding === 'ucs2' ? one.length : EXTENSION.has(one) ? 2 : 1,
  )
  const units = sizes.reduce((sum, size) => sum + size, 0)
  const { alone, part } = LIMITS[encoding]
  const parts = units === 0 ? [] : units <= alone ? [units] : filled(sizes, part)
  const limit = parts.length > 1 ? part : alone
  return {
    encoding,
    units,
    parts,
    left: limit - (parts.at(-1) ?? 0),
    outside: [...new Set(outside)],
  }
}

function filled(sizes: readonly number[], limit: number): number[] {
  const parts = [0]
  for (const size of sizes) {
    const last = parts.at(-1) ?? 0
    if (last + size > limit) parts.push(size)
    else parts[parts.length - 1] = last + size
  }
  return parts
}
