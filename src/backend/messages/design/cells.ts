import { escapeHtml } from '../html.ts'

/** Between two things side by side, in CSS pixels. */
export const GAP = 16

/** A thing's picture, as wide as given; its alt text is empty, for its name stands right beside it. */
export function pictureHtml(imageUrl: string | null, url: string | null, width: number): string {
  if (imageUrl === null) return ''
  const image = `<img src="${escapeHtml(imageUrl)}" alt="" width="${width}" style="display:block;width:100%;max-width:${width}px;height:auto;border:0;border-radius:4px">`
  return url === null ? image : `<a href="${escapeHtml(url)}">${image}</a>`
}

/** A thing's name, leading to it where that is known. */
export function nameHtml(title: string, url: string | null, colour: string): string {
  const words = escapeHtml(title)
  return url === null
    ? `<strong>${words}</strong>`
    : `<a href="${escapeHtml(url)}" style="color:${colour};font-weight:bold;text-decoration:none">${words}</a>`
}

/** Cells in rows of so many, on so many CSS pixels; a row that is not full keeps the width of the others. On phones they stand one below the other. */
export function gridRows(cells: readonly string[], columns: number, width: number): string {
  const own = cellWidth(width, columns)
  const rows: string[] = []
  for (let at = 0; at < cells.length; at += columns) {
    const row = cells.slice(at, at + columns)
    const drawn = row.map((inner, index) => {
      const right = index === columns - 1 ? 0 : GAP
      return `<td class="product" align="left" valign="top" width="${own}" style="padding:0 ${right}px 16px 0">${inner}</td>`
    })
    const missing = columns - row.length
    rows.push(`<tr>${drawn.join('')}${missing > 0 ? `<td class="product" colspan="${missing}"></td>` : ''}</tr>`) // prettier-ignore
  }
  return rows.join('')
}

/** How wide a picture is in one of so many columns. */
export const cellWidth = (width: number, columns: number): number =>
  Math.floor((width - GAP * (columns - 1)) / columns)
