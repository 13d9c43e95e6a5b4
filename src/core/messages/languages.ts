import { basicFilter, lookup } from 'bcp-47-match'
import { allBlocks, type Block } from '../blocks/blocks.ts'
import { contentOf, mapLeaves, sameContent, saying, saysSomething } from '../blocks/content.ts'
import type { Facts } from '../events/facts.ts'
import type { EmailStep, SmsStep } from '../workflow/steps.ts'
import type { Translation } from '../blocks/translation.ts'

/** A message that can be written in several languages. */
export type Translated = EmailStep | SmsStep

/** The languages that a message is written in, its own first; `own` is the shop's where it does not say. */
export const languagesOf = (
  { writtenIn, translations = {} }: Translated,
  own: string,
): string[] => [writtenIn ?? own, ...Object.keys(translations)]

/**
 * Which of some languages somebody reads, the first being taken where none fits: by lookup (RFC 4647, 3.4: `de-AT`
 * finds `de`), else by filtering (3.3.1: `pt` finds `pt-BR`).
 */
export function languageFor(languages: readonly string[], wanted: string | null): string {
  const [own = 'en'] = languages
  const range = wanted?.trim().replaceAll('_', '-') ?? ''
  if (range === '') return own
  const found = lookup([...languages], range)
  if (found !== undefined) return found
  // What stands before the first hyphen is the language; the rest is where and how it is written.
  const [language = ''] = range.split('-')
  return basicFilter([...languages], range)[0] ?? basicFilter([...languages], language)[0] ?? own
}

/** The language that a message reaches somebody in. */
export const languageOf = (
  step: Translated,
  { customer, shop }: Pick<Facts, 'customer' | 'shop'>,
): string => languageFor(languagesOf(step, shop.locale), customer.language)

/** A message as it is in one of its languages: what is not translated is as in its own. */
export function inLanguage<Message extends Translated>(step: Message, language: string): Message
export function inLanguage(step: Translated, language: string): Translated {
  const { translations, ...own } = step
  const said = translations?.[language]
  if (!said) return own
  const { subject, previewText, body, blocks = {} } = said
  if (own.kind === 'sms') return { ...own, ...(body !== undefined && { body }) }
  return {
    ...own,
    ...(subject !== undefined && { subject }),
    ...(previewText !== undefined && { previewText }),
    ...(body !== undefined && { body }),
    ...(own.blocks && {
      blocks: mapLeaves(own.blocks, (block) => {
        const content = blocks[block.key]
        return content ? saying(block, content) : block
      }),
    }),
  }
}

/**
 * A message after it was changed in one of its further languages: what it says goes to that language, how it looks
 * and what it is made of to all of them. Blocks that are new say the same in every language, until they are translated.
 */
export function changedIn<Message extends Translated>(
  step: Message,
  language: string,
  edited: Message,
): Message
export function changedIn(step: Translated, language: string, edited: Translated): Translated {
  const { translations = {} } = step
  const before = translations[language] ?? {}
  if (step.kind === 'sms' || edited.kind === 'sms') {
    const said = { ...before, ...differing(step, edited, before, ['body']) }
    return { ...edited, body: step.body, translations: { ...translations, [language]: said } }
  }
  const own = new Map(allBlocks(step.blocks ?? []).map((block) => [block.key, block]))
  const blocks: NonNullable<Translation['blocks']> = {}
  const kept = mapLeaves(edited.blocks ?? [], (block) => {
    const original = own.get(block.key)
    if (!original || original.kind !== block.kind) return block
    if (before.blocks?.[block.key] || !sameContent(original, block)) blocks[block.key] = contentOf(block) // prettier-ignore
    return { ...block, ...emptied(block), ...contentOf(original) } as typeof block
  })
  const said: Translation = {
    ...before,
    ...differing(step, edited, before, ['subject', 'previewText', 'body']),
    blocks,
  }
  const { subject, previewText, body } = step
  return {
    ...edited,
    subject,
    previewText,
    body,
    ...(edited.blocks && { blocks: kept }),
    translations: { ...translations, [language]: said },
  }
}

/** Parts that the original lacks must not stay as the translation has them. */
const emptied = (block: Block): object =>
  Object.fromEntries(Object.keys(contentOf(block)).map((part) => [part, undefined]))

function differing(
  step: Translated,
  edited: Translated,
  before: Translation,
  parts: readonly ('subject' | 'previewText' | 'body')[],
): Translation {
  const own = step as Partial<EmailStep>
  const now = edited as Partial<EmailStep>
  return Object.fromEntries(
    parts.flatMap((part) =>
      before[part] !== undefined || own[part] !== now[part] ? [[part, now[part]]] : [],
    ),
  )
}

/** What of a message is not said in a language yet: its parts, and the keys of its blocks. */
export function untranslated(
  step: Translated,
  language: string,
): { parts: string[]; blocks: string[] } {
  const said = step.translations?.[language] ?? {}
  if (step.kind === 'sms') return { parts: said.body === undefined ? ['text'] : [], blocks: [] }
  const missing = (part: 'subject' | 'previewText' | 'body', words: string) =>
    step[part].trim() !== '' && said[part] === undefined ? [words] : []
  const isDesigned = step.format === 'designed'
  return {
    parts: [
      ...missing('subject', 'subject'),
      ...missing('previewText', 'preview text'),
      ...(isDesigned ? [] : missing('body', 'text')),
    ],
    blocks: isDesigned
      ? allBlocks(step.blocks ?? [])
          .filter((block) => saysSomething(block) && !said.blocks?.[block.key])
          .filter((block) => Object.values(contentOf(block)).some((text) => text !== ''))
          .map(({ key }) => key)
      : [],
  }
}
