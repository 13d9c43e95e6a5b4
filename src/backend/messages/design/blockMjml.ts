import type { Block, ColumnsBlock, LeafBlock } from '../../../core/blocks/blocks.ts'
import { assertNever } from '../../../core/shared/assertNever.ts'
import { RenderError } from '../renderError.ts'
import { escapeHtml } from '../html.ts'
import { cleanHtml } from './ownHtml.ts'
import type { Writer } from './writer.ts'

const SIDE = 32

/** A block as MJML sections, with the marks between which it can be left out. */
export function blockMjml(block: Block, writer: Writer): string {
  const { colours } = writer.brand
  const inner =
    block.kind === 'columns' ? columns(block, writer) : `<mj-column>${leaf(block, writer)}</mj-column>` // prettier-ignore
  const padding = block.kind === 'columns' ? `0 ${SIDE - 12}px` : `0 ${SIDE}px`
  const section = `<mj-section css-class="sheet" background-color="${colours.paper}" padding="${padding}">${inner}</mj-section>`
  return bracketed(block, section, writer)
}

function columns({ columns: all }: ColumnsBlock, writer: Writer): string {
  return all
    .map((blocks) => {
      const inside = blocks.map((block) => bracketed(block, leaf(block, writer), writer)).join('')
      return `<mj-column padding="0 12px">${inside}</mj-column>`
    })
    .join('')
}

/** Blocks that are not for everybody, or may have nothing to show, stand between marks. */
function bracketed(block: Block, mjml: string, { slots }: Writer): string {
  const mayBeMissing =
    block.onlyIf !== undefined || block.kind === 'tracking' || block.kind === 'products'
  if (!mayBeMissing) return mjml
  const start = slots.token({ kind: 'start', block: block.key })
  const end = slots.token({ kind: 'end' })
  return `<mj-raw>${start}</mj-raw>${mjml}<mj-raw>${end}</mj-raw>`
}

function leaf(block: LeafBlock, writer: Writer): string {
  switch (block.kind) {
    case 'heading':
      return heading(block, writer)
    case 'text':
      return text(writer.paragraphs(block.text), writer)
    case 'button':
      return button(writer.words(block.label), writer.link(block.href), writer)
    case 'image':
      return image(block, writer)
    case 'items':
      return table(writer.slots.token({ kind: 'rows', prices: block.prices, rule: writer.rule }), writer) // prettier-ignore
    case 'summary':
      return table(
        writer.slots.token({
          kind: 'summary',
          rule: writer.rule,
          addresses: block.addresses === true,
        }),
        writer,
      )
    case 'tracking': {
      const field = { key: 'order.tracking_url', format: null, fallback: null }
      return button(writer.words(block.label), writer.slots.token({ kind: 'field', field, as: 'link' }), writer) // prettier-ignore
    }
    case 'coupon':
    case 'divider':
    case 'help':
    case 'html':
    case 'kept':
    case 'menu':
    case 'products':
    case 'social':
      return smallLeaf(block, writer)
  }
}

type Small = Exclude<
  LeafBlock,
  { kind: 'heading' | 'text' | 'button' | 'image' | 'items' | 'summary' | 'tracking' }
>

function smallLeaf(block: Small, writer: Writer): string {
  const { colours, links, social, helpEmail } = writer.brand
  switch (block.kind) {
    case 'coupon':
      return coupon(block.text, writer)
    case 'products':
      return table(writer.slots.token({ kind: 'products', block, accent: colours.accent }), writer)
    case 'divider':
      return `<mj-divider css-class="rule" border-width="1px" border-color="${writer.rule}" padding="16px 0" />`
    case 'menu': {
      const own = block.links.length > 0 ? block.links : links
      return linkRow(own, writer)
    }
    case 'social':
      return linkRow(social, writer)
    case 'help': {
      const mail = escapeHtml(helpEmail)
      const link = `<a href="mailto:${mail}" style="color:${colours.accent}">${mail}</a>`
      return text(`${writer.words(block.text)}${mail === '' ? '' : ` ${link}`}`, writer, 14)
    }
    case 'kept':
      throw new RenderError('a kept block it uses is gone')
    case 'html':
      return text(cleanHtml(block.html, writer), writer)
    default:
      return assertNever(block, 'block')
  }
}

function text(html: string, { brand, textFont }: Writer, size = 16): string {
  return `<mj-text css-class="ink" font-family="${textFont}" font-size="${size}px" line-height="1.5" color="${brand.colours.ink}" padding="0 0 16px">${html}</mj-text>`
}

function heading({ level, text: words }: { level: 1 | 2; text: string }, writer: Writer): string {
  const { brand, headingFont } = writer
  const size = level === 1 ? 26 : 19
  const html = `<h${level} style="margin:0;font-size:${size}px;line-height:1.25;font-weight:bold">${writer.words(words)}</h${level}>`
  return `<mj-text css-class="ink" font-family="${headingFont}" font-size="${size}px" color="${brand.colours.ink}" padding="8px 0 12px">${html}</mj-text>`
}

function button(label: string, href: string, { brand, textFont }: Writer): string {
  const { accent, onAccent } = brand.colours
  return `<mj-button href="${href}" align="left" font-family="${textFont}" font-size="16px" font-weight="bold" background-color="${accent}" color="${onAccent}" border-radius="4px" inner-padding="12px 20px" padding="4px 0 20px">${label}</mj-button>`
}

function image(block: Extract<LeafBlock, { kind: 'image' }>, writer: Writer): string {
  const height = block.height === undefined ? '' : ` height="${block.height}px"`
  const href = block.href === undefined ? '' : ` href="${writer.link(block.href)}"`
  return `<mj-image src="${writer.link(block.src)}" alt="${writer.attribute(block.alt)}" width="${block.width}px"${height}${href} align="left" padding="0 0 16px" />`
}

function table(rows: string, { brand, textFont }: Writer): string {
  return `<mj-table css-class="ink" font-family="${textFont}" font-size="15px" line-height="1.4" color="${brand.colours.ink}" padding="0 0 16px">${rows}</mj-table>`
}

function coupon(words: string, writer: Writer): string {
  const { brand, slots } = writer
  const code = slots.token({ kind: 'field', field: { key: 'coupon.code', format: null, fallback: null }, as: 'text' }) // prettier-ignore
  const box = `<div style="margin:10px 0 0;padding:12px 16px;border:2px dashed ${brand.colours.accent};font-family:Courier New,Courier,monospace;font-size:22px;letter-spacing:2px;display:inline-block">${code}</div>`
  return text(`${writer.words(words)}<br>${box}`, writer)
}

function linkRow(links: readonly { label: string; href: string }[], writer: Writer): string {
  const style = `color:${writer.brand.colours.accent};text-decoration:none`
  const all = links.map(
    ({ label, href }) => `<a href="${writer.link(href)}" style="${style}">${writer.words(label)}</a>`, // prettier-ignore
  )
  return text(all.join(' &nbsp;·&nbsp; '), writer, 14)
}
