import type { Block, ColumnsBlock, LeafBlock } from '../../../core/blocks/blocks.ts'
import { SPACES, type BlockStyle } from '../../../core/blocks/style.ts'
import { leafMjml } from './leafMjml.ts'
import { placeOf, SIDE } from './look.ts'
import type { Writer } from './writer.ts'

/** Half of what lies between two columns, in CSS pixels. */
const GUTTER = 12
const SHEET = 600

/** A block as MJML sections, with the marks between which it can be left out. */
export function blockMjml(block: Block, writer: Writer): string {
  const place = placeOf(writer, block, { band: 'paper', isInColumn: false, width: SHEET - 2 * SIDE }) // prettier-ignore
  const { style, band, colours } = place
  const look = `${sectionClasses(block.key, `band-${band}`, style, writer)} background-color="${colours.band}"`
  if (block.kind === 'columns') {
    const above = style.above ? SPACES[style.above] : style.band ? 24 : 0
    const below = style.below ? SPACES[style.below] : style.band ? 8 : 0
    const padding = `${above}px ${SIDE - GUTTER}px ${below}px`
    return bracketed(block, `<mj-section ${look} padding="${padding}">${columns(block, writer)}</mj-section>`, writer) // prettier-ignore
  }
  const side = style.edge ? 0 : SIDE
  const inner = `<mj-column>${leafMjml(block, place)}</mj-column>`
  return bracketed(block, `<mj-section ${look} padding="0 ${side}px">${inner}</mj-section>`, writer) // prettier-ignore
}

function sectionClasses(
  key: string,
  band: string,
  { only }: BlockStyle,
  { isMarked }: Writer,
): string {
  const seen = only === 'phones' ? ['only-phones'] : only === 'wide' ? ['only-wide'] : []
  return `css-class="${[band, ...seen, ...(isMarked ? [`of-${key}`] : [])].join(' ')}"`
}

function columns(block: ColumnsBlock, writer: Writer): string {
  const { columns: all, widths, upright = 'top', phones, style } = block
  const parts = all.map((_, index) => widths?.[index] ?? 1)
  const whole = parts.reduce((sum, part) => sum + part, 0)
  const band = style?.band ?? 'paper'
  const drawn = all
    .map((blocks, index) => {
      const share = (parts[index] ?? 1) / whole
      const width = Math.floor((SHEET - 2 * SIDE + 2 * GUTTER) * share) - 2 * GUTTER
      const inside = blocks.map((leaf) => inColumn(leaf, writer, band, width)).join('')
      return `<mj-column width="${Math.floor(share * 10_000) / 100}%" vertical-align="${upright}" padding="0 ${GUTTER}px">${inside}</mj-column>`
    })
    .join('')
  return phones === 'beside' ? `<mj-group>${drawn}</mj-group>` : drawn
}

function inColumn(
  block: LeafBlock,
  writer: Writer,
  band: BlockStyle['band'] & string,
  width: number,
): string {
  const place = placeOf(writer, block, { band, isInColumn: true, width })
  return bracketed(block, leafMjml(block, place), writer)
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
