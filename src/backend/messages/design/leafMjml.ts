import type { LeafBlock } from '../../../core/blocks/blocks.ts'
import { assertNever } from '../../../core/shared/assertNever.ts'
import { escapeHtml } from '../html.ts'
import { RenderError } from '../renderError.ts'
import { buttonMjml } from './buttonMjml.ts'
import {
  alignOf,
  classes,
  corners,
  headingSize,
  inkClass,
  inkOf,
  room,
  textSize,
  type Place,
} from './look.ts'
import { cleanHtml } from './ownHtml.ts'

/** A block that holds no others as MJML components. Throws RenderError. */
export function leafMjml(block: LeafBlock, place: Place): string {
  const { writer } = place
  switch (block.kind) {
    case 'heading':
      return heading(block, place)
    case 'text':
      return text(writer.paragraphs(block.text, place.colours.accent), place)
    case 'button':
      return buttonMjml(writer.words(block.label), writer.link(block.href), place)
    case 'tracking': {
      const field = { key: 'order.tracking_url', format: null, fallback: null }
      const href = writer.slots.token({ kind: 'field', field, as: 'link' })
      return buttonMjml(writer.words(block.label), href, place)
    }
    case 'image':
      return image(block, place)
    case 'items':
    case 'products':
    case 'summary':
      return shopLeaf(block, place)
    case 'coupon':
    case 'divider':
    case 'help':
    case 'html':
    case 'kept':
    case 'menu':
    case 'social':
      return smallLeaf(block, place)
  }
}

type Of<Kind extends LeafBlock['kind']> = Extract<LeafBlock, { kind: Kind }>

/** What the shop knows and the message only shows. */
function shopLeaf(block: Of<'items' | 'products' | 'summary'>, place: Place): string {
  const { slots } = place.writer
  const { width, colours } = place
  switch (block.kind) {
    case 'items':
      return table(slots.token({ kind: 'rows', block, colours, width }), place)
    case 'summary': {
      const addresses = block.addresses === true
      return table(slots.token({ kind: 'summary', rule: colours.rule, addresses }), place)
    }
    case 'products': {
      const { heading: words = '' } = block
      const { style } = place
      const { band, align, above } = style
      const over = { ...place, mark: '', style: { band, align, above, below: 'small' } as const }
      const title = words.trim() === '' ? '' : heading({ level: 2, text: words }, over)
      const under = title === '' ? place : { ...place, style: { ...style, above: 'none' as const } }
      return `${title}${table(slots.token({ kind: 'products', block, colours, width }), under)}`
    }
  }
}

function smallLeaf(
  block: Of<'coupon' | 'divider' | 'help' | 'html' | 'kept' | 'menu' | 'social'>,
  place: Place,
): string {
  const { writer, colours } = place
  const { links, social, helpEmail } = writer.brand
  switch (block.kind) {
    case 'coupon':
      return coupon(block.text, place)
    case 'divider':
      return divider(place)
    case 'menu':
      return linkRow(block.links.length > 0 ? block.links : links, place)
    case 'social':
      return linkRow(social, place)
    case 'help': {
      const mail = escapeHtml(helpEmail)
      const link = `<a href="mailto:${mail}" style="color:${colours.accent}">${mail}</a>`
      return text(`${writer.words(block.text)}${mail === '' ? '' : ` ${link}`}`, place, 14)
    }
    case 'kept':
      throw new RenderError('a kept block it uses is gone')
    case 'html':
      return text(cleanHtml(block.html, writer), place)
    default:
      return assertNever(block, 'block')
  }
}

function text(html: string, place: Place, usual = 16): string {
  const size = textSize(place, usual)
  return `<mj-text ${classes(place, inkClass(place))} align="${alignOf(place)}" font-family="${place.writer.textFont}" font-size="${size}px" line-height="1.5" color="${inkOf(place)}" ${room(place, [0, 16])}>${html}</mj-text>`
}

function heading({ level, text: words }: { level: 1 | 2; text: string }, place: Place): string {
  const { writer } = place
  const size = headingSize(place, level)
  const html = `<h${level} style="margin:0;font-size:${size}px;line-height:1.25;font-weight:bold">${writer.words(words)}</h${level}>`
  return `<mj-text ${classes(place, inkClass(place))} align="${alignOf(place)}" font-family="${writer.headingFont}" font-size="${size}px" color="${inkOf(place)}" ${room(place, [8, 12])}>${html}</mj-text>`
}

function image(block: Of<'image'>, place: Place): string {
  const { writer, style } = place
  const width = style.edge && !place.isInColumn ? 600 : Math.min(block.width, place.width)
  // Scaled in step, or it would be stretched.
  const height =
    block.height === undefined ? '' : ` height="${Math.round((block.height * width) / block.width)}px"` // prettier-ignore
  const href = block.href === undefined ? '' : ` href="${writer.link(block.href)}"`
  const round = style.edge ? '' : ` border-radius="${corners(place, 'square')}px"`
  return `<mj-image ${classes(place, 'picture')} src="${writer.link(block.src)}" alt="${writer.attribute(block.alt)}" width="${width}px"${height}${href}${round} align="${alignOf(place)}" ${room(place, style.edge ? [0, 24] : [0, 16])} />`
}

function table(rows: string, place: Place): string {
  return `<mj-table ${classes(place, inkClass(place))} font-family="${place.writer.textFont}" font-size="${textSize(place, 15)}px" line-height="1.4" color="${inkOf(place)}" ${room(place, [0, 16])}>${rows}</mj-table>`
}

function coupon(words: string, place: Place): string {
  const { writer, colours, style } = place
  const code = writer.slots.token({ kind: 'field', field: { key: 'coupon.code', format: null, fallback: null }, as: 'text' }) // prettier-ignore
  const border = style.corners ? `;border-radius:${corners(place, 'square')}px` : ''
  const box = `<div style="margin:10px 0 0;padding:12px 16px;border:2px dashed ${colours.accent};font-family:Courier New,Courier,monospace;font-size:22px;letter-spacing:2px;display:inline-block${border}">${code}</div>`
  return text(`<div>${writer.words(words)}</div>${box}`, place)
}

const LINES = {
  thin: ['1px', 'solid', '100%'],
  thick: ['3px', 'solid', '100%'],
  dotted: ['2px', 'dotted', '100%'],
  short: ['2px', 'solid', '72px'],
} as const

function divider(place: Place): string {
  const { style, colours, band } = place
  const [thickness, line, width] = LINES[style.line ?? 'thin']
  const colour = style.ink ? inkOf(place) : colours.rule
  const dark = band === 'accent' || band === 'ink' || style.ink ? '' : 'rule'
  return `<mj-divider ${classes(place, dark)} align="${alignOf(place)}" width="${width}" border-width="${thickness}" border-style="${line}" border-color="${colour}" ${room(place, [16, 16])} />`
}

function linkRow(links: readonly { label: string; href: string }[], place: Place): string {
  const { writer, colours } = place
  const style = `color:${colours.accent};text-decoration:none`
  const all = links.map(
    ({ label, href }) => `<a href="${writer.link(href)}" style="${style}">${writer.words(label)}</a>`, // prettier-ignore
  )
  return text(all.join(' &nbsp;·&nbsp; '), place, 14)
}
