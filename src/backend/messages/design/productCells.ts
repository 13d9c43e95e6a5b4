import { formatMoney } from '../../../core/shared/money.ts'
import type { Product } from '../../recommend/index.ts'
import { escapeHtml } from '../html.ts'
import type { Filling } from './filling.ts'
import type { Slot } from './slots.ts'

/** The text's width, without its margins. */
const WIDTH = 536
const GAP = 16

/** Recommended products in rows of so many columns. */
export function productCells(
  { block, accent }: Extract<Slot, { kind: 'products' }>,
  filling: Filling,
): string {
  const products = filling.products.get(block.key) ?? []
  const width = Math.floor(WIDTH / block.columns) - GAP
  const cells = products.map((product) => {
    const words = [titleOf(product, accent), ...(block.prices ? [priceOf(product, filling)] : [])]
    const picture = block.images ? imageOf(product, width) : ''
    return `<td class="product" align="left" valign="top" width="${Math.round(100 / block.columns)}%" style="padding:0 ${GAP}px 16px 0">${picture}${words.join('<br>')}</td>`
  })
  return rowsOf(cells, block.columns)
}

function titleOf({ title, url }: Product, accent: string): string {
  const words = escapeHtml(title)
  return url === null
    ? `<strong>${words}</strong>`
    : `<a href="${escapeHtml(url)}" style="color:${accent};font-weight:bold;text-decoration:none">${words}</a>`
}

const priceOf = ({ priceMinor, currency }: Product, { facts }: Filling): string =>
  escapeHtml(formatMoney({ amountMinor: priceMinor, currency }, facts.shop.locale))

/** Its alt text is empty: the title stands right below it. */
function imageOf({ imageUrl, url }: Product, width: number): string {
  if (imageUrl === null) return ''
  const image = `<img src="${escapeHtml(imageUrl)}" alt="" width="${width}" style="display:block;width:100%;max-width:${width}px;height:auto;border:0;margin:0 0 8px">`
  return url === null ? image : `<a href="${escapeHtml(url)}">${image}</a>`
}

function rowsOf(cells: readonly string[], columns: number): string {
  const rows: string[] = []
  for (let at = 0; at < cells.length; at += columns) {
    rows.push(`<tr>${cells.slice(at, at + columns).join('')}</tr>`)
  }
  return rows.join('')
}
