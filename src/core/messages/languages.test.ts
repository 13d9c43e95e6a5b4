import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Block } from '../blocks/blocks.ts'
import { anEmail } from '../../testing/builders.ts'
import { facts } from '../../testing/coreFacts.ts'
import type { EmailStep } from '../workflow/steps.ts'
import { countWords, FIXED_WORDS, fixedWords, footerIn, hasFixedWords } from './fixedWords.ts'
import { toldIn } from './formats.ts'
import { changedIn, inLanguage, languageFor, untranslated } from './languages.ts'

describe('which language somebody reads (RFC 4647)', () => {
  // 3.4, its example: the range zh-Hant-CN-x-private1-private2 finds zh-Hant-CN, then zh-Hant, then zh.
  test('lookup shortens what is wanted until it is found', () => {
    const wanted = 'zh-Hant-CN-x-private1-private2'
    expect(languageFor(['en', 'zh-Hant-CN', 'zh-Hant', 'zh'], wanted)).toBe('zh-Hant-CN')
    expect(languageFor(['en', 'zh-Hant', 'zh'], wanted)).toBe('zh-Hant')
    expect(languageFor(['en', 'zh'], wanted)).toBe('zh')
    expect(languageFor(['en'], wanted)).toBe('en')
  })

  // 3.3.1, its example: the range de-de finds de-DE-1996, not de-Latn-DE or de-Deva.
  test('where lookup finds none, filtering finds a longer one', () => {
    expect(languageFor(['en', 'de-Deva', 'de-DE-1996'], 'de-de')).toBe('de-DE-1996')
    expect(languageFor(['en', 'pt-BR'], 'pt')).toBe('pt-BR')
    expect(languageFor(['en', 'de-CH'], 'de-AT')).toBe('de-CH')
  })

  test('what customers enter may be anything', () => {
    expect(languageFor(['en', 'de'], 'de_AT')).toBe('de')
    for (const odd of [null, '', '  ', 'klingonisch!', '*', 'x']) {
      expect(languageFor(['en-IE', 'de'], odd)).toBe('en-IE')
    }
  })
})

const BLOCKS: Block[] = [
  { key: 'h', kind: 'heading', level: 1, text: 'Thank you' },
  { key: 'cols', kind: 'columns', columns: [
    [{ key: 'b', kind: 'button', label: 'Look', href: 'https://shop.example' }],
    [{ key: 'i', kind: 'items', prices: true }],
  ] },
] // prettier-ignore
const message: EmailStep = anEmail('m', { format: 'designed', subject: 'Your order', previewText: '', blocks: BLOCKS, body: '' }) // prettier-ignore

describe('a message in several languages', () => {
  const german = changedIn(message, 'de', { ...message, subject: 'Deine Bestellung' })

  test('what is written in one goes there alone', () => {
    expect(german).toMatchObject({ subject: 'Your order', translations: { de: { subject: 'Deine Bestellung' } } }) // prettier-ignore
    expect(inLanguage(german, 'de').subject).toBe('Deine Bestellung')
    expect(inLanguage(german, 'fr').subject).toBe('Your order')
  })

  test('how it looks, and what it is made of, is the same in all', () => {
    const seen = inLanguage(german, 'de')
    const edited: EmailStep = {
      ...seen,
      blocks: [
        { key: 'h', kind: 'heading', level: 1, text: 'Danke', style: { band: 'tint' } },
        { key: 'd', kind: 'divider' },
        ...(seen.blocks ?? []).slice(1),
      ],
    }
    const after = changedIn(german, 'de', edited)
    expect(after.blocks?.[0]).toEqual({ ...BLOCKS[0], style: { band: 'tint' } })
    expect(after.blocks?.map(({ key }) => key)).toEqual(['h', 'd', 'cols'])
    expect(inLanguage(after, 'de')).toEqual(edited)
    expect(after.translations?.['de']?.blocks).toEqual({ h: { text: 'Danke' } })
  })

  test('nothing else is changed by looking; what is changed is found again (property)', () => {
    const words = fc.constantFrom('', 'eins', 'zwei', 'Thank you')
    fc.assert(
      fc.property(words, words, words, (subject, heading, label) => {
        const edited: EmailStep = {
          ...message,
          subject,
          blocks: [
            { key: 'h', kind: 'heading', level: 1, text: heading },
            { key: 'cols', kind: 'columns', columns: [
              [{ key: 'b', kind: 'button', label, href: 'https://shop.example' }],
              [{ key: 'i', kind: 'items', prices: true }],
            ] },
          ],
        } // prettier-ignore
        const once = changedIn(message, 'de', edited)
        expect(inLanguage(once, 'de')).toEqual(edited)
        expect({ ...once, translations: undefined }).toEqual({ ...message, translations: undefined }) // prettier-ignore
        expect(changedIn(once, 'de', inLanguage(once, 'de'))).toEqual(once)
      }),
    )
  })

  test('what is not translated yet is known', () => {
    expect(untranslated(german, 'de')).toEqual({ parts: [], blocks: ['h', 'b'] })
    expect(untranslated(message, 'fr')).toEqual({ parts: ['subject'], blocks: ['h', 'b'] })
  })
})

describe('fixed words', () => {
  test('are there in five languages, and of each as the shop has them', () => {
    expect(Object.keys(FIXED_WORDS)).toEqual(['en', 'de', 'fr', 'pt', 'es'])
    expect(fixedWords('de-AT').total).toBe('Gesamt')
    expect(fixedWords('nl').total).toBe('Total')
    const dutch = { ...FIXED_WORDS['en'], total: 'Totaal' } as (typeof FIXED_WORDS)['en'] & object
    expect(fixedWords('nl-BE', { nl: { words: dutch } }).total).toBe('Totaal')
    expect(hasFixedWords('nl')).toBe(false)
    expect(hasFixedWords('pt-BR')).toBe(true)
  })

  // The plural rules of Unicode's CLDR: French counts 0 as one, English does not.
  test('count by the rules of the language', () => {
    expect([0, 1, 2].map((n) => countWords(n, 'en', fixedWords('en')))).toEqual(['0 items', '1 item', '2 items']) // prettier-ignore
    expect([0, 1, 2].map((n) => countWords(n, 'fr', fixedWords('fr')))).toEqual(['0 article', '1 article', '2 articles']) // prettier-ignore
  })

  test('the footer is in the language where the brand has it', () => {
    const brand = { footer: 'For beekeepers', languages: { de: { footer: 'Für Imker' } } }
    expect(footerIn(brand, 'de-CH')).toBe('Für Imker')
    expect(footerIn(brand, 'fr')).toBe('For beekeepers')
  })
})

test('dates are as the reader writes them in that language, else as the shop does', () => {
  const of = (language: string | null, shop: string) =>
    toldIn('de', facts({ customer: { language }, shop: { locale: shop } })).shop.locale
  expect(of('de-AT', 'en-IE')).toBe('de-AT')
  expect(of('fr', 'de-CH')).toBe('de-CH')
  expect(of(null, 'en-IE')).toBe('de')
})
