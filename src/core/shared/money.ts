/** An amount in the smallest unit of its currency, as an integer: EUR 12.50 is 1250. */
export interface Money {
  amountMinor: number
  /** ISO 4217 code. */
  currency: string
}

/**
 * Digits after the point by ISO 4217, where they are not 2. `Intl` is no source for this: its
 * defaults follow CLDR, which gives HUF, IDR, COP and others no decimals.
 */
const MINOR_DIGITS: Readonly<Record<string, number>> = {
  BIF: 0, CLP: 0, DJF: 0, GNF: 0, ISK: 0, JPY: 0, KMF: 0, KRW: 0, PYG: 0, RWF: 0, UGX: 0,
  UYI: 0, VND: 0, VUV: 0, XAF: 0, XOF: 0, XPF: 0,
  BHD: 3, IQD: 3, JOD: 3, KWD: 3, LYD: 3, OMR: 3, TND: 3,
  CLF: 4, UYW: 4,
} // prettier-ignore

/** How many decimals a currency's amounts have (ISO 4217). */
export function minorDigits(currency: string): number {
  return MINOR_DIGITS[currency] ?? 2
}

/** The amount as a decimal string without currency: 1250 EUR is "12.50". Exact, no floats. */
export function decimalAmount(money: Money): string {
  const digits = minorDigits(money.currency)
  const sign = money.amountMinor < 0 ? '-' : ''
  const all = String(Math.abs(money.amountMinor)).padStart(digits + 1, '0')
  const whole = all.slice(0, all.length - digits)
  return digits === 0 ? sign + whole : `${sign}${whole}.${all.slice(-digits)}`
}

/**
 * The amount written for a reader of the locale, with all its minor digits: "€12.50"; or without
 * them where they are nought: "€12".
 */
export function formatMoney(
  money: Money,
  locale: string,
  { stripZeros = false }: { stripZeros?: boolean } = {},
): string {
  const key = `${locale} ${money.currency} ${stripZeros}`
  const known = formats.get(key)
  const format = known ?? moneyFormat(money.currency, locale, stripZeros)
  if (!known) formats.set(key, format)
  return format.format(decimalAmount(money) as Intl.StringNumericLiteral)
}

/** Making one takes longer than all else about a mail; there are few pairs of locale and currency. */
const formats = new Map<string, Intl.NumberFormat>()

function moneyFormat(currency: string, locale: string, strip: boolean): Intl.NumberFormat {
  const digits = minorDigits(currency)
  return new Intl.NumberFormat(locale, {
    style: 'currency',
    currency,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
    trailingZeroDisplay: strip ? 'stripIfInteger' : 'auto',
  })
}

/** The amount where there is little room: "€3.9K". Rounded, so the exact one belongs beside it. */
export function shortMoney({ amountMinor, currency }: Money, locale: string): string {
  const amount = amountMinor / 10 ** minorDigits(currency)
  return new Intl.NumberFormat(locale, {
    style: 'currency',
    currency,
    notation: 'compact',
    maximumSignificantDigits: 3,
  }).format(amount)
}

/**
 * Reads "12.5", "12,50" or "12" as an amount of a currency. Returns null when it is no plain
 * decimal or has more decimals than the currency; never rounds.
 */
export function parseAmount(text: string, currency: string): Money | null {
  const match = /^(-?)(\d{1,12})(?:[.,](\d+))?$/.exec(text.trim())
  if (!match) return null
  const digits = minorDigits(currency)
  const fraction = match[3] ?? ''
  if (fraction.length > digits) return null
  const amountMinor = Number(match[2] + fraction.padEnd(digits, '0'))
  return { amountMinor: match[1] ? -amountMinor : amountMinor, currency }
}
