import type { BlockKind } from '../../../../../core/blocks/blocks.ts'
import type { StylePart } from '../../../../../core/blocks/style.ts'

const AROUND = ['band', 'above', 'below', 'only'] as const
const WORDS = ['align', 'size', 'ink', ...AROUND] as const

/** What can be said of how each kind looks, in the order in which it is asked. */
export const STYLE_PARTS: Readonly<Record<BlockKind, readonly StylePart[]>> = {
  heading: WORDS,
  text: WORDS,
  button: ['align', 'button', 'width', 'corners', 'size', ...AROUND],
  tracking: ['align', 'button', 'width', 'corners', 'size', ...AROUND],
  image: ['align', 'edge', 'corners', ...AROUND],
  items: ['align', 'size', ...AROUND],
  summary: ['size', ...AROUND],
  products: ['size', ...AROUND],
  coupon: ['align', 'size', 'corners', ...AROUND],
  divider: ['line', 'ink', 'align', ...AROUND],
  menu: ['align', 'size', ...AROUND],
  social: ['align', 'size', ...AROUND],
  help: WORDS,
  html: ['align', 'size', ...AROUND],
  columns: AROUND,
  // It looks as what it stands for does.
  kept: [],
}
