import type { Facts } from '../../core/events/facts.ts'
import { fixedWords } from '../../core/messages/fixedWords.ts'
import type { TagSyntax } from '../../core/messages/foreignTags.ts'
import { inTheirLanguage } from '../../core/messages/inTheirLanguage.ts'
import { mergeValues } from '../../core/messages/mergeFields.ts'
import {
  allBlocks,
  keptIn,
  withKept,
  type Block,
  type LeafBlock,
  type ProductsBlock,
} from '../../core/blocks/blocks.ts'
import type { Brand } from '../../core/messages/brand.ts'
import { withOwnAddress } from '../../core/messages/ownFiles.ts'
import type { EmailStep, NoteStep, SmsStep } from '../../core/workflow/steps.ts'
import type { Product } from '../recommend/index.ts'
import type { ProductLook } from './design/filling.ts'
import { renderDesign } from './design/index.ts'
import { letterHtml } from './letterHtml.ts'
import { RenderError } from './renderError.ts'
import { renderTemplate, sayingWhatIsUnknown, scopeOf } from './template.ts'

export interface RenderedEmail {
  subject: string
  previewText: string
  text: string
  html: string | null
}

/** What an email is rendered with besides the facts. */
export interface EmailContext {
  brand: Brand
  /** Where Yomble is reached, without a slash at the end. */
  publicUrl: string
  /** The link that stops marketing; null where none belongs. */
  unsubscribeUrl: string | null
  /** Whether the condition of a block holds for the recipient. */
  holds: (block: string) => boolean
  /** The blocks that are kept by themselves, by their ids. */
  keptOf: (ids: readonly string[]) => Promise<ReadonlyMap<string, readonly LeafBlock[]>>
  /** What a block of products shows to the recipient. */
  productsOf: (block: ProductsBlock) => Promise<Product[]>
  /** Where the shop's products can be looked at, and their pictures, by their ids. */
  looksOf: () => Promise<ReadonlyMap<string, ProductLook>>
  /** Blocks can be found again in the HTML, for those who write on it. */
  isMarked?: boolean
  /** Looked at in this of its languages; left out: in the recipient's. */
  inLanguage?: string | undefined
  /** Merge fields are written as another system's, in its blocks. */
  tags?: TagSyntax | undefined
}

/** Renders a message for one recipient. Throws RenderError with the reason. */
export async function renderEmail(
  message: EmailStep,
  known: Facts,
  {
    brand,
    publicUrl,
    unsubscribeUrl,
    holds,
    productsOf,
    looksOf,
    keptOf,
    isMarked = false,
    inLanguage,
    tags,
  }: EmailContext,
): Promise<RenderedEmail> {
  const { step, facts } = inTheirLanguage(message, known, inLanguage)
  const words = fixedWords(facts.shop.locale, brand.languages)
  const values = mergeValues(facts)
  const scope = scopeOf(facts, values)
  const subject = renderTemplate(step.subject, scope).replaceAll(/\s+/g, ' ').trim()
  const previewText = renderTemplate(step.previewText, scope).trim()
  if (subject === '') throw new RenderError('the subject is empty')
  if (step.format === 'designed') {
    const blocks = await expanded(step.blocks ?? [], keptOf)
    if (blocks.length === 0) throw new RenderError('there are no blocks')
    const products = await productsIn(blocks, productsOf)
    const looks = await looksIn(blocks, looksOf)
    const filling = {
      facts,
      values,
      subject,
      previewText,
      wayOut: unsubscribeUrl,
      holds,
      products,
      looks,
      words,
      tags,
    }
    const isMarketing = step.purpose === 'marketing'
    const { html, text } = await renderDesign(blocks, brand, filling, { isMarketing, isMarked })
    return { subject, previewText, html: withOwnAddress(html, publicUrl), text }
  }
  const body = renderTemplate(step.body, scope).trim()
  if (body === '') throw new RenderError('the text is empty')
  const address = brand.postalAddress.trim()
  const footer =
    unsubscribeUrl === null
      ? ''
      : `\n\n-- \n${address === '' ? '' : `${oneLine(address)}\n`}${words.wayOut}: ${unsubscribeUrl}`
  const html =
    step.format === 'plain'
      ? null
      : letterHtml({
          shopName: facts.shop.name,
          postalAddress: unsubscribeUrl === null ? '' : oneLine(address),
          subject,
          previewText,
          body,
          unsubscribeUrl,
          wayOut: words.wayOut,
          language: facts.shop.locale,
        })
  return { subject, previewText, text: `${body}${footer}\n`, html }
}

const oneLine = (address: string): string => address.replaceAll(/\s*\n\s*/g, ', ')

async function expanded(
  blocks: readonly Block[],
  keptOf: EmailContext['keptOf'],
): Promise<Block[]> {
  const ids = keptIn(blocks)
  if (ids.length === 0) return [...blocks]
  const all = withKept(blocks, await keptOf(ids))
  if (keptIn(all).length > 0) throw new RenderError('a kept block it uses is gone')
  return all
}

async function productsIn(
  blocks: readonly Block[],
  productsOf: EmailContext['productsOf'],
): Promise<Map<string, Product[]>> {
  const found = new Map<string, Product[]>()
  for (const block of allBlocks(blocks)) {
    if (block.kind === 'products') found.set(block.key, await productsOf(block))
  }
  return found
}

/** Asked for only where something is shown with its picture. */
async function looksIn(
  blocks: readonly Block[],
  looksOf: EmailContext['looksOf'],
): Promise<ReadonlyMap<string, ProductLook>> {
  const shows = allBlocks(blocks).some((block) => block.kind === 'items' && block.images)
  return shows ? looksOf() : new Map()
}

/** Renders a staff note. Throws RenderError with the reason. */
export function renderNote(step: NoteStep, facts: Facts): RenderedEmail {
  const scope = sayingWhatIsUnknown(scopeOf(facts))
  const subject = renderTemplate(step.subject, scope).replaceAll(/\s+/g, ' ').trim()
  const body = renderTemplate(step.body, scope).trim()
  if (subject === '') throw new RenderError('the subject is empty')
  if (body === '') throw new RenderError('the text is empty')
  return { subject, previewText: '', text: `${body}\n`, html: null }
}

/** Renders a text message. Throws RenderError with the reason. */
export function renderSms(message: SmsStep, known: Facts, inLanguage?: string): string {
  const { step, facts } = inTheirLanguage(message, known, inLanguage)
  // Composed characters are more often in the alphabet of text messages, and take less room.
  const text = renderTemplate(step.body, scopeOf(facts)).trim().normalize('NFC')
  if (text === '') throw new RenderError('the text is empty')
  return text
}
