import { z } from 'zod'
import { languageFor } from './languages.ts'

const words = z.string().min(1).max(60)

/** What messages say by themselves, in one language. */
export const fixedWordsSchema = z.strictObject({
  /** What the things alone come to. */
  items: words,
  discount: words,
  shipping: words,
  tax: words,
  paidBy: words,
  total: words,
  goesTo: words,
  billTo: words,
  /** The way out of marketing. */
  wayOut: words,
  /** How many things, by the plural rules of the language (CLDR); {n} is the number. */
  count: z.strictObject({
    one: words.optional(),
    two: words.optional(),
    few: words.optional(),
    many: words.optional(),
    other: words,
  }),
})
export type FixedWords = z.infer<typeof fixedWordsSchema>

const ENGLISH: FixedWords = {
  items: 'Items',
  discount: 'Discount',
  shipping: 'Shipping',
  tax: 'Of which tax',
  paidBy: 'Paid by',
  total: 'Total',
  goesTo: 'Goes to',
  billTo: 'Bill to',
  wayOut: 'No more of these',
  count: { one: '{n} item', other: '{n} items' },
}

/** The languages whose words come with Yomble; a shop's brand can bring others, or change these. */
export const FIXED_WORDS: Readonly<Record<string, FixedWords>> = {
  en: ENGLISH,
  de: {
    items: 'Artikel',
    discount: 'Nachlass',
    shipping: 'Versand',
    tax: 'Darin Steuern',
    paidBy: 'Bezahlt mit',
    total: 'Gesamt',
    goesTo: 'Geht an',
    billTo: 'Rechnung an',
    wayOut: 'Keine solchen Nachrichten mehr',
    count: { one: '{n} Artikel', other: '{n} Artikel' },
  },
  fr: {
    items: 'Articles',
    discount: 'Remise',
    shipping: 'Livraison',
    tax: 'Dont taxes',
    paidBy: 'Payé par',
    total: 'Total',
    goesTo: 'Livré à',
    billTo: 'Facturé à',
    wayOut: 'Ne plus recevoir ces messages',
    count: { one: '{n} article', other: '{n} articles' },
  },
  pt: {
    items: 'Artigos',
    discount: 'Desconto',
    shipping: 'Envio',
    tax: 'Impostos incluídos',
    paidBy: 'Pago com',
    total: 'Total',
    goesTo: 'Entrega a',
    billTo: 'Faturação a',
    wayOut: 'Não receber mais destas mensagens',
    count: { one: '{n} artigo', other: '{n} artigos' },
  },
  es: {
    items: 'Artículos',
    discount: 'Descuento',
    shipping: 'Envío',
    tax: 'Impuestos incluidos',
    paidBy: 'Pagado con',
    total: 'Total',
    goesTo: 'Se envía a',
    billTo: 'Se factura a',
    wayOut: 'No recibir más mensajes como este',
    count: { one: '{n} artículo', other: '{n} artículos' },
  },
}

/** What a brand says in further languages. */
export const brandLanguageSchema = z.strictObject({
  words: fixedWordsSchema.optional(),
  footer: z.string().max(1000).optional(),
})
export type BrandLanguages = Readonly<Record<string, z.infer<typeof brandLanguageSchema>>>

/** The fixed words for a locale: the shop's own, else those that come with Yomble; in English where there are none. */
export function fixedWords(locale: string, own: BrandLanguages = {}): FixedWords {
  const brought = Object.entries(own).flatMap(([tag, { words: all }]) => (all ? [tag] : []))
  const found = languageFor(['', ...brought, ...Object.keys(FIXED_WORDS)], locale)
  return own[found]?.words ?? FIXED_WORDS[found] ?? ENGLISH
}

/** True where there are fixed words for a language. */
export const hasFixedWords = (language: string, own: BrandLanguages = {}): boolean =>
  languageFor(['', ...Object.keys(own), ...Object.keys(FIXED_WORDS)], language) !== ''

const rules = new Map<string, Intl.PluralRules>()

/** "3 items", by the plural rules of the language. */
export function countWords(count: number, locale: string, { count: forms }: FixedWords): string {
  const known = rules.get(locale)
  const rule = known ?? new Intl.PluralRules(locale)
  if (!known) rules.set(locale, rule)
  const form = rule.select(count)
  const template = (form === 'zero' ? undefined : forms[form]) ?? forms.other
  return template.replace('{n}', new Intl.NumberFormat(locale).format(count))
}

/** What stands under everything, in the language of a locale where the brand has it. */
export function footerIn(
  { footer, languages = {} }: { footer: string; languages?: BrandLanguages | undefined },
  locale: string,
): string {
  const own = Object.keys(languages).filter((tag) => languages[tag]?.footer !== undefined)
  return languages[languageFor(['', ...own], locale)]?.footer ?? footer
}
