import {
  paragraphText,
  type Block,
  type LeafBlock,
  type Paragraph,
  type Styled,
} from '../../../core/blocks/blocks.ts'
import type { Brand } from '../../../core/messages/brand.ts'
import { footerIn } from '../../../core/messages/fixedWords.ts'
import { templateParts } from '../../../core/messages/mergeFields.ts'
import { addressesOf, itemRows, summaryRows, valueOf, type Filling } from './filling.ts'

/** The plain-text part of a designed email, made of the same blocks. Throws RenderError. */
export function designText(
  blocks: readonly Block[],
  brand: Brand,
  filling: Filling,
  hidden: ReadonlySet<string>,
): string {
  const shown = (block: Block) => !hidden.has(block.key)
  const leaves = blocks
    .filter(shown)
    .flatMap((block) => (block.kind === 'columns' ? block.columns.flat().filter(shown) : [block]))
  // Menus come last: some mail programs show the first lines of the text in their list.
  const ordered = [
    ...leaves.filter(({ kind }) => kind !== 'menu'),
    ...leaves.filter(({ kind }) => kind === 'menu'),
  ]
  const body = ordered.map((block) => leafText(block, brand, filling))
  return [...body, footText(brand, filling)].filter((text) => text !== '').join('\n\n')
}

function leafText(block: LeafBlock, brand: Brand, filling: Filling): string {
  const words = (template: string) => filledWords(template, filling)
  switch (block.kind) {
    case 'heading':
      return block.level === 1 ? words(block.text).toUpperCase() : words(block.text)
    case 'text':
      return words(paragraphText(block.text.map(withLinks)))
    case 'button':
      return `${words(block.label)}: ${words(block.href)}`
    case 'image':
      return block.href === undefined ? '' : `${words(block.alt)}: ${words(block.href)}`
    case 'items':
      return itemRows(filling)
        .map(({ title, variant, quantity, price }) => {
          const cost = block.prices && price !== null ? `  ${price}` : ''
          const which = block.variants && variant !== null ? `, ${variant}` : ''
          return `${quantity} × ${title}${which}${cost}`
        })
        .join('\n')
    case 'summary':
      return summaryText(block.addresses === true, filling)
    case 'tracking':
      return `${words(block.label)}: ${filling.facts.order?.trackingUrl ?? ''}`
    case 'coupon':
    case 'divider':
    case 'help':
    case 'html':
    case 'kept':
    case 'menu':
    case 'products':
    case 'social':
      return smallText(block, brand, filling)
  }
}

function summaryText(addresses: boolean, filling: Filling): string {
  return [
    ...summaryRows(filling).map(([label, value]) => `${label}: ${value}`),
    ...(addresses ? addressesOf(filling) : []).map(
      ({ label, lines }) => `${label}: ${lines.join(', ')}`,
    ),
  ].join('\n')
}

type Small = Exclude<
  LeafBlock,
  { kind: 'heading' | 'text' | 'button' | 'image' | 'items' | 'summary' | 'tracking' }
>

function smallText(block: Small, brand: Brand, filling: Filling): string {
  const words = (template: string) => filledWords(template, filling)
  const links = (all: readonly { label: string; href: string }[]) =>
    all.map(({ label, href }) => `${words(label)}: ${words(href)}`).join('\n')
  switch (block.kind) {
    case 'coupon':
      return `${words(block.text)}\n${words('{{ coupon.code }}')}`
    case 'products': {
      const products = (filling.products.get(block.key) ?? []).map(({ title, url }) => (url === null ? title : `${title}: ${url}`)) // prettier-ignore
      return [words(block.heading ?? ''), ...products].filter((one) => one !== '').join('\n')
    }
    case 'divider':
      return '---'
    case 'menu':
      return links(block.links.length > 0 ? block.links : brand.links)
    case 'social':
      return links(brand.social)
    case 'kept':
      return ''
    case 'help':
      return `${words(block.text)} ${brand.helpEmail}`.trim()
    case 'html':
      return words(textOfHtml(block.html))
  }
}

function footText(brand: Brand, { wayOut, words, facts }: Filling): string {
  const address = brand.postalAddress.replaceAll('\n', ', ')
  const links = brand.links.map(({ label, href }) => `${label}: ${href}`)
  const out = wayOut === null ? [] : [`${words.wayOut}: ${wayOut}`]
  const lines = [footerIn(brand, facts.shop.locale), address, ...links, ...out].filter(
    (line) => line !== '',
  )
  return lines.length === 0 ? '' : ['-- ', ...lines].join('\n')
}

/** A link's address after its words, unless they are it. */
function withLinks(paragraph: Paragraph): Paragraph {
  const run = (all: readonly Styled[]) =>
    all.map((styled) => {
      const { text, href } = styled
      return href === undefined || href === text ? styled : { ...styled, text: `${text} (${href})` }
    })
  return paragraph.kind === 'paragraph'
    ? { ...paragraph, text: run(paragraph.text) }
    : { ...paragraph, items: paragraph.items.map(run) }
}

function filledWords(template: string, filling: Filling): string {
  return templateParts(template)
    .map((part) => (typeof part === 'string' ? part : valueOf(part, filling)))
    .join('')
}

const ENTITIES: Readonly<Record<string, string>> = {
  amp: '&',
  lt: '<',
  gt: '>',
  quot: '"',
  nbsp: ' ',
}

/** What own HTML says, roughly: its text, with line breaks where its blocks end. */
function textOfHtml(html: string): string {
  return html
    .replaceAll(/<(script|style)[\s\S]*?<\/\1>/gi, '')
    .replaceAll(/<(br|\/p|\/div|\/h\d|\/li|\/tr)[^>]*>/gi, '\n')
    .replaceAll(/<[^>]*>/g, '')
    .replaceAll(/&(amp|lt|gt|quot|nbsp);/g, (_all, name: string) => ENTITIES[name] ?? '')
    .replaceAll(/[ \t]+/g, ' ')
    .replaceAll(/\n\s*\n+/g, '\n\n')
    .trim()
}
