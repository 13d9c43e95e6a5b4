// oxlint-disable-next-line import/no-named-as-default -- its types know no other name for it
import PDFDocument from 'pdfkit'
import type { Facts } from '../../core/events/facts.ts'
import type { Brand } from '../../core/messages/brand.ts'
import { fixedWords } from '../../core/messages/fixedWords.ts'
import { mergeValues } from '../../core/messages/mergeFields.ts'
import { addressesOf, itemRows, summaryRows, type Filling } from './design/filling.ts'
import { RenderError } from './renderError.ts'

const MARGIN = 56
/** A4 in points, less its margins. */
const WIDTH = 595.28 - 2 * MARGIN

/** An order as a PDF of one or more pages of A4. Throws RenderError where there is no order. */
export function invoicePdf(facts: Facts, brand: Brand): Promise<Buffer> {
  const { order } = facts
  if (!order) throw new RenderError('there is no order to make an invoice of')
  const filling: Filling = { facts, values: mergeValues(facts), subject: '', previewText: '', wayOut: null, holds: () => true, products: new Map(), looks: new Map(), words: fixedWords(facts.shop.locale, brand.languages) } // prettier-ignore
  const document = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    info: {
      Title: `Invoice ${order.number}`,
      Author: brand.name,
      CreationDate: new Date(facts.now),
    },
  })
  const pdf = new Promise<Buffer>((resolve, reject) => {
    const chunks: Buffer[] = []
    document.on('data', (chunk: Buffer) => chunks.push(chunk))
    document.on('end', () => resolve(Buffer.concat(chunks)))
    document.on('error', reject)
  })
  head(document, brand, filling)
  rows(document, filling)
  sums(document, filling)
  document.end()
  return pdf
}

type Document = InstanceType<typeof PDFDocument>

function head(document: Document, brand: Brand, filling: Filling): void {
  const { order } = filling.facts
  document.font('Helvetica-Bold').fontSize(16).text(printable(brand.name))
  document.font('Helvetica').fontSize(9).fillColor('#555555')
  document.text(printable(brand.postalAddress.replaceAll('\n', ', '))).moveDown(2)
  document.fillColor('#000000').fontSize(10)
  for (const { label, lines } of addressesOf(filling)) {
    document.font('Helvetica-Bold').text(label).font('Helvetica')
    document.text(lines.map(printable).join('\n')).moveDown()
  }
  document.font('Helvetica-Bold').fontSize(13).text(`Invoice for order ${printable(order?.number ?? '')}`) // prettier-ignore
  const placed = filling.values['order']?.['placed_on']
  document.font('Helvetica').fontSize(10).text(placed === undefined ? '' : printable(placed)).moveDown() // prettier-ignore
}

function rows(document: Document, filling: Filling): void {
  for (const { title, quantity, price } of itemRows(filling)) {
    line(document, `${quantity} × ${title}`, price ?? '')
  }
}

function sums(document: Document, filling: Filling): void {
  document.moveDown(0.5)
  const all = summaryRows(filling)
  all.forEach(([label, value], index) => {
    document.font(index === all.length - 1 ? 'Helvetica-Bold' : 'Helvetica')
    line(document, label, value)
  })
}

/** Words at the left and an amount at the right, on the next page where this one is full. */
function line(document: Document, left: string, right: string): void {
  const words = printable(left)
  const height = document.heightOfString(words, { width: WIDTH - 100 })
  if (document.y + height > document.page.height - MARGIN) document.addPage()
  const { y } = document
  document.text(words, MARGIN, y, { width: WIDTH - 100 })
  document.text(printable(right), MARGIN + WIDTH - 95, y, { width: 95, align: 'right' })
  document.x = MARGIN
  document.y = y + height + 4
}

/** The typefaces of every PDF reader know Western letters only; others would come out as wrong ones. */
function printable(text: string): string {
  return Array.from(text.normalize('NFC'), (one) => (/[\u0020-\u00ff€’‘“”–—…]/.test(one) ? one : '?')).join('') // prettier-ignore
}
