import { escapeHtml } from '../html.ts'
import { cellWidth, gridRows, nameHtml, pictureHtml } from './cells.ts'
import { itemRows, type Filling, type ItemRow } from './filling.ts'
import type { Slot } from './slots.ts'

/** In CSS pixels. */
const THUMB = 64
const GRID_COLUMNS = 3

type Rows = Extract<Slot, { kind: 'rows' }>

/** What was ordered, left behind or subscribed to: one below the other, or side by side. */
export function itemCells(slot: Rows, filling: Filling): string {
  const items = itemRows(filling)
  const { block, width } = slot
  // Where nothing has a picture there is no room left for one.
  const hasPictures = block.images === true && items.some(({ imageUrl }) => imageUrl !== null)
  if (!block.grid) return items.map((item) => rowHtml(slot, item, hasPictures)).join('')
  const [only] = items
  if (only && items.length === 1) return aloneHtml(slot, only)
  const columns = Math.min(GRID_COLUMNS, items.length)
  return gridRows(
    items.map((item) => cellHtml(slot, item, columns)),
    columns,
    width,
  )
}

function rowHtml({ block, colours }: Rows, item: ItemRow, hasPictures: boolean): string {
  const line = `border-bottom:1px solid ${colours.rule}`
  // Names begin at the same place where one of several has no picture.
  const picture = hasPictures
    ? `<td width="${THUMB}" valign="top" style="width:${THUMB}px;padding:10px 14px 10px 0;${line}">${pictureHtml(item.imageUrl, item.url, THUMB)}</td>`
    : ''
  const cost =
    block.prices && item.price !== null
      ? `<td align="right" valign="top" style="padding:8px 0 8px 12px;${line};white-space:nowrap">${escapeHtml(item.price)}</td>`
      : ''
  return `<tr>${picture}<td align="left" valign="top" style="padding:8px 0;${line}">${words(block, colours, item)}</td>${cost}</tr>`
}

function words(
  { images, variants }: Rows['block'],
  colours: Rows['colours'],
  item: ItemRow,
): string {
  const count = item.quantity === 1 ? '' : `${item.quantity} × `
  // Plain rows name things; with pictures they lead to them.
  const name = images ? nameHtml(item.title, item.url, colours.ink) : escapeHtml(item.title)
  const variant = variants && item.variant !== null ? item.variant : null
  return variant === null
    ? `${count}${name}`
    : `${count}${name}<br><span style="font-size:13px">${escapeHtml(variant)}</span>`
}

function cellHtml({ block, colours, width }: Rows, item: ItemRow, columns: number): string {
  const shown = block.images ? pictureHtml(item.imageUrl, item.url, cellWidth(width, columns)) : ''
  const picture = shown === '' ? '' : `<div style="margin:0 0 8px">${shown}</div>`
  const price = block.prices && item.price !== null ? `<br>${escapeHtml(item.price)}` : ''
  return `${picture}${words(block, colours, item)}${price}`
}

/** What there is one of has the room of two, where the block is aligned. */
function aloneHtml(slot: Rows, item: ItemRow): string {
  const { align = 'left' } = slot.block.style ?? {}
  const width = cellWidth(slot.width, 2)
  const side = align === 'center' ? '0 auto' : align === 'right' ? '0 0 0 auto' : '0'
  return `<tr><td align="${align}"><div style="max-width:${width}px;margin:${side}">${cellHtml(slot, item, 2)}</div></td></tr>`
}
