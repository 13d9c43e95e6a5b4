import { formatMoney } from '../../../core/shared/money.ts'
import type { Product } from '../../recommend/index.ts'
import { escapeHtml } from '../html.ts'
import { cellWidth, gridRows, nameHtml, pictureHtml } from './cells.ts'
import type { Filling } from './filling.ts'
import type { Slot } from './slots.ts'

/** Recommended products in rows of so many columns. */
export function productCells(
  { block, colours, width }: Extract<Slot, { kind: 'products' }>,
  filling: Filling,
): string {
  const products = filling.products.get(block.key) ?? []
  const cells = products.map((product) => {
    const words = [
      nameHtml(product.title, product.url, colours.accent),
      ...(block.prices ? [priceOf(product, filling)] : []),
    ]
    return `${block.images ? pictureOf(product, cellWidth(width, block.columns)) : ''}${words.join('<br>')}`
  })
  return gridRows(cells, block.columns, width)
}

const priceOf = ({ priceMinor, currency }: Product, { facts }: Filling): string =>
  escapeHtml(formatMoney({ amountMinor: priceMinor, currency }, facts.shop.locale))

function pictureOf({ imageUrl, url }: Product, width: number): string {
  const picture = pictureHtml(imageUrl, url, width)
  return picture === '' ? '' : `<div style="margin:0 0 8px">${picture}</div>`
}
