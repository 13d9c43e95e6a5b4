import { bandColours, type BandColours } from '../../../core/messages/palette.ts'
import {
  CORNERS,
  SPACES,
  type Align,
  type Band,
  type BlockStyle,
  type Size,
} from '../../../core/blocks/style.ts'
import type { Writer } from './writer.ts'

/** Between the sheet's edge and what stands on it, in CSS pixels. */
export const SIDE = 32
/** What a band leaves above and below what stands on it, where the block does not say. */
const BAND_SPACE = 24
/** The same around a block on a band of its own within a column. */
const BOX_SPACE = 16

/** Where a leaf is drawn: on which band, in what colours, and how the block itself says it looks. */
export interface Place {
  writer: Writer
  style: BlockStyle
  band: Band
  colours: BandColours
  /** In a column, where a band is a box. */
  isInColumn: boolean
  /** How wide it may be, in CSS pixels. */
  width: number
  /** Names the block in what is drawn, for those who write on it. */
  mark: string
}

/** The place of a block whose style is this, on a band. */
export function placeOf(
  writer: Writer,
  { key, style = {} }: { key: string; style?: BlockStyle | undefined },
  on: { band: Band; isInColumn: boolean; width: number },
): Place {
  const band = style.band ?? on.band
  const isBox = on.isInColumn && band !== on.band
  return {
    writer,
    style,
    band,
    colours: bandColours(writer.brand.colours, band),
    isInColumn: on.isInColumn,
    width: on.width - (isBox ? 2 * BOX_SPACE : 0),
    mark: writer.isMarked ? `is-${key}` : '',
  }
}

/** The attributes that say how much room a component has around it, and what it stands on within a column. */
export function room(
  { style, isInColumn, colours }: Place,
  usual: readonly [above: number, below: number],
): string {
  const isOnBand = style.band !== undefined && style.band !== 'paper'
  const above = style.above ? SPACES[style.above] : isOnBand ? BAND_SPACE : usual[0]
  const below = style.below ? SPACES[style.below] : isOnBand ? BAND_SPACE : usual[1]
  const isBox = isInColumn && style.band !== undefined
  const side = isBox ? `${BOX_SPACE}px` : '0'
  const box = isBox ? ` container-background-color="${colours.band}"` : ''
  return `padding="${above}px ${side} ${below}px"${box}`
}

/** Classes of a component: for the dark side, and for those who write on it. */
export const classes = ({ mark }: Place, ...names: string[]): string =>
  `css-class="${[...names, mark].filter((name) => name !== '').join(' ')}"`

/** The class that gives a text its colour on the dark side; on bands that are dark anyway it keeps its own. */
export function inkClass({ style, band }: Place): string {
  if (band === 'accent' || band === 'ink') return 'own-ink'
  const ink = style.ink ?? 'ink'
  return ink === 'accent' ? 'strong' : ink
}

export const inkOf = ({ style, colours }: Place): string => colours[style.ink ?? 'ink']

export const alignOf = ({ style }: Place): Align => style.align ?? 'left'

const TEXT_SIZES: Readonly<Record<Size, number>> = { small: 14, normal: 16, large: 19, huge: 24 }

/** In CSS pixels. */
export const textSize = ({ style }: Place, usual = 16): number =>
  style.size ? TEXT_SIZES[style.size] : usual

const HEADING_SIZES: Readonly<Record<1 | 2, Readonly<Record<Size, number>>>> = {
  1: { small: 22, normal: 26, large: 32, huge: 40 },
  2: { small: 17, normal: 19, large: 22, huge: 26 },
}

export const headingSize = ({ style }: Place, level: 1 | 2): number =>
  HEADING_SIZES[level][style.size ?? 'normal']

/** In CSS pixels. */
export const corners = ({ style }: Place, usual: keyof typeof CORNERS): number =>
  CORNERS[style.corners ?? usual]
