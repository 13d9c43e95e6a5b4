import { countWords, fixedWords } from './fixedWords.ts'
import type { Facts, LineFacts } from '../events/facts.ts'
import { formatMoney, type Money } from '../shared/money.ts'
import type { Instant } from '../shared/time.ts'

/** What can be written in more than one way. A `time` is a day with an hour. */
export type FormatKind = 'day' | 'time' | 'money' | 'list'

/** A way to write a value, as it stands in a template: `{{ order.total | as: "short" }}`. */
export interface Format {
  key: string
  label: string
}

const DAYS: readonly Format[] = [
  { key: 'weekday', label: 'with the weekday' },
  { key: 'figures', label: 'in figures' },
]

/** The ways to write each kind of value besides the usual one. */
export const FORMATS: Readonly<Record<FormatKind, readonly Format[]>> = {
  day: DAYS,
  time: [{ key: 'day', label: 'the day alone' }, ...DAYS, { key: 'hour', label: 'the hour alone' }],
  money: [{ key: 'short', label: 'without cents where there are none' }],
  list: [
    { key: 'sentence', label: 'in a sentence' },
    { key: 'names', label: 'in a sentence, without quantities' },
    { key: 'count', label: 'how many' },
  ],
}

/**
 * The locale a recipient reads in: their own language where it is known, as the shop writes it where
 * that is the same language (a shop in Ireland writes English dates the Irish way).
 */
function localeOf({ customer, shop }: Pick<Facts, 'customer' | 'shop'>): string {
  const { language } = customer
  if (language === null) return shop.locale
  const known = locales.get(language)
  const locale = known ?? (isWritten(language) ? language : shop.locale)
  if (known === undefined) locales.set(language, locale)
  const isBare = !locale.includes('-')
  return isBare && shop.locale.split('-')[0] === locale.toLowerCase() ? shop.locale : locale
}

/** The facts as a message in the recipient's own language tells of them. */
export function inLanguageOf(
  { language }: { language?: 'recipient' | undefined },
  facts: Facts,
): Facts {
  if (language !== 'recipient') return facts
  return { ...facts, shop: { ...facts.shop, locale: localeOf(facts) } }
}

/**
 * The facts as a message tells of them that is written in a language: in it as the recipient writes it, where it is
 * theirs (German as in Austria), else as the shop does, else by itself.
 */
export function toldIn(language: string, facts: Facts): Facts {
  const { customer, shop } = facts
  const same = [customer.language ?? '', shop.locale].find(
    (locale) => primary(locale) === primary(language) && isWritten(locale),
  )
  const locale = same ?? (isWritten(language) ? language : shop.locale)
  return { ...facts, shop: { ...shop, locale } }
}

const primary = (tag: string): string => tag.split(/[-_]/)[0]?.toLowerCase() ?? ''

const locales = new Map<string, string>()

/** True for a language tag that dates can be written in. What customers enter may be anything. */
function isWritten(language: string): boolean {
  try {
    return Intl.DateTimeFormat.supportedLocalesOf([language]).length > 0
  } catch (error) {
    if (error instanceof RangeError) return false
    throw error
  }
}

const DAY_PARTS = {
  day: { day: 'numeric', month: 'long', year: 'numeric' },
  weekday: { weekday: 'long', day: 'numeric', month: 'long' },
  figures: { day: '2-digit', month: '2-digit', year: 'numeric' },
  dayOfYear: { day: 'numeric', month: 'long' },
  hour: { timeStyle: 'short' },
  year: { year: 'numeric' },
} as const satisfies Record<string, Intl.DateTimeFormatOptions>

/** A day by the calendar of a zone: "9 May 2026", "Saturday 9 May", "09/05/2026". */
export function writeDay(at: Instant, zone: string, locale: string, format = 'day'): string | null {
  if (format !== 'day' && format !== 'weekday' && format !== 'figures') return null
  return written(at, zone, locale, format)
}

/** A day and hour: "9 May, 10:00"; with the year when it differs from that of `now`. */
export function writeTime(
  at: Instant,
  zone: string,
  locale: string,
  { now, format }: { now: Instant; format?: string | undefined },
): string | null {
  if (format === 'hour') return written(at, zone, locale, 'hour')
  if (format !== undefined) return writeDay(at, zone, locale, format)
  const yearOf = (one: Instant) => written(one, zone, 'en', 'year')
  const isThisYear = yearOf(at) === yearOf(now)
  const day = written(at, zone, locale, isThisYear ? 'dayOfYear' : 'day')
  return `${day}, ${written(at, zone, locale, 'hour')}`
}

function written(at: Instant, zone: string, locale: string, parts: keyof typeof DAY_PARTS): string {
  const key = `${locale} ${zone} ${parts}`
  const known = dateFormats.get(key)
  const format = known ?? new Intl.DateTimeFormat(locale, { ...DAY_PARTS[parts], timeZone: zone })
  if (!known) dateFormats.set(key, format)
  return format.format(at)
}

/** Making one takes longer than all else about a mail. */
const dateFormats = new Map<string, Intl.DateTimeFormat>()

/** An amount: "€12.50"; `short`: "€12", where there are no cents. */
export function writeMoney(money: Money, locale: string, format?: string): string | null {
  if (format === undefined) return formatMoney(money, locale)
  return format === 'short' ? formatMoney(money, locale, { stripZeros: true }) : null
}

/** Items, one per line; `sentence`: "2 × Smoker and 1 × Veil"; `names`: "Smoker and Veil"; `count`: "3 items". */
export function writeItems(
  lines: readonly LineFacts[],
  locale: string,
  format?: string,
): string | null {
  const counted = lines.map((line) => `${line.quantity} × ${line.title}`)
  if (format === undefined) return counted.join('\n')
  if (format === 'sentence') return listed(counted, locale)
  if (format === 'count') {
    const count = lines.reduce((sum, { quantity }) => sum + quantity, 0)
    return countWords(count, locale, fixedWords(locale))
  }
  return format === 'names' ? listed([...new Set(lines.map(({ title }) => title))], locale) : null
}

function listed(items: readonly string[], locale: string): string {
  const known = listFormats.get(locale)
  const format = known ?? new Intl.ListFormat(locale, { type: 'conjunction' })
  if (!known) listFormats.set(locale, format)
  return format.format(items)
}

const listFormats = new Map<string, Intl.ListFormat>()
