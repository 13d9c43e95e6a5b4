import { assertNever } from '../../../core/shared/assertNever.ts'
import { RenderError } from '../renderError.ts'
import { addressesOf, summaryRows, valueOf, type Filling } from './filling.ts'
import { escapeHtml } from '../html.ts'
import { itemCells } from './itemCells.ts'
import { orderData } from './orderData.ts'
import { productCells } from './productCells.ts'
import type { Segment, Slot } from './slots.ts'

/** Fills a compiled design for one recipient. Throws RenderError with what is missing. */
export function fill(
  segments: readonly Segment[],
  filling: Filling,
  hidden: ReadonlySet<string>,
): string {
  let html = ''
  let depth = 0
  for (const segment of segments) {
    if (typeof segment === 'string') {
      if (depth === 0) html += segment
    } else if (segment.kind === 'start') {
      if (depth > 0 || hidden.has(segment.block)) depth += 1
    } else if (segment.kind === 'end') {
      if (depth > 0) depth -= 1
    } else if (depth === 0) html += filled(segment, filling)
  }
  return html
}

type Filled = Exclude<Slot, { kind: 'start' | 'end' }>

function filled(slot: Filled, filling: Filling): string {
  switch (slot.kind) {
    case 'field':
      return field(slot, filling)
    case 'rows':
      return itemCells(slot, filling)
    case 'summary':
      return summary(slot, filling)
    case 'products':
      return productCells(slot, filling)
    case 'subject':
      return escapeHtml(filling.subject)
    case 'preview':
      return previewOf(filling.previewText)
    case 'wayOut':
      return escapeHtml(filling.wayOut ?? '')
    case 'orderData':
      return orderData(filling.facts)
    default:
      return assertNever(slot, 'slot')
  }
}

function field({ field: part, as }: Extract<Slot, { kind: 'field' }>, filling: Filling): string {
  const value = valueOf(part, filling)
  // A tag of another system's is taken as it is: it has nothing in it that HTML knows.
  if (filling.tags !== undefined) return value
  if (as === 'text') return escapeHtml(value).replaceAll('\n', '<br>')
  // A whole address is taken as it is; a word within one is no part of its syntax.
  if (/^(https?:\/\/|mailto:)/i.test(value)) return escapeHtml(value)
  if (/^[a-z][a-z0-9+.-]*:/i.test(value)) throw new RenderError(`${part.key} is no web address`)
  return escapeHtml(encodeURIComponent(value))
}

function summary(
  { rule, addresses }: Extract<Slot, { kind: 'summary' }>,
  filling: Filling,
): string {
  const all = summaryRows(filling)
  const amounts = all
    .map(([label, value], index) => {
      const isTotal = index === all.length - 1
      const style = `padding:4px 0;${isTotal ? `font-weight:bold;border-top:1px solid ${rule}` : ''}`
      return `<tr><td align="left" style="${style}">${escapeHtml(label)}</td><td align="right" style="${style}">${escapeHtml(value)}</td></tr>`
    })
    .join('')
  return addresses ? `${amounts}${addressRow(filling)}` : amounts
}

function addressRow(filling: Filling): string {
  const cells = addressesOf(filling).map(
    ({ label, lines }) =>
      `<td align="left" valign="top" style="padding:16px 12px 0 0;font-size:14px"><strong>${label}</strong><br>${lines.map(escapeHtml).join('<br>')}</td>`,
  )
  return cells.length === 0 ? '' : `<tr>${cells.join('')}</tr>`
}

/** Filled up, so that mail programs do not show the first lines of the text after it. */
function previewOf(text: string): string {
  return text === '' ? '' : `${escapeHtml(text)}${'&#847;&zwnj;&nbsp;'.repeat(60)}`
}
