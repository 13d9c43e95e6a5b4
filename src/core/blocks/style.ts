import { z } from 'zod'

/** Space above and below a block, in CSS pixels: few steps, so that messages keep one rhythm. */
export const SPACES = { none: 0, small: 8, medium: 16, large: 32, huge: 56 } as const
export type Space = keyof typeof SPACES
const space = z.enum(Object.keys(SPACES) as [Space, ...Space[]])

/** What a block stands on: each comes from the brand's colours (`palette.ts`). */
export const BANDS = ['paper', 'ground', 'tint', 'accent', 'ink'] as const
export type Band = (typeof BANDS)[number]

export const INKS = ['ink', 'quiet', 'accent'] as const
/** What a text is written in: each is readable on every band, as the brand allows. */
export type Ink = (typeof INKS)[number]

export const SIZES = ['small', 'normal', 'large', 'huge'] as const
export type Size = (typeof SIZES)[number]

/** In CSS pixels. */
export const CORNERS = { square: 0, soft: 4, round: 12, pill: 28 } as const
export type Corners = keyof typeof CORNERS

export const ALIGNS = ['left', 'center', 'right'] as const
export type Align = (typeof ALIGNS)[number]

/** How a block looks where it differs from what its kind begins with. What a kind has no use for does nothing. */
export const styleSchema = z.strictObject({
  align: z.enum(ALIGNS).optional(),
  above: space.optional(),
  below: space.optional(),
  band: z.enum(BANDS).optional(),
  size: z.enum(SIZES).optional(),
  ink: z.enum(INKS).optional(),
  corners: z.enum(Object.keys(CORNERS) as [Corners, ...Corners[]]).optional(),
  /** A button as wide as its words, as half of the text, or as all of it. */
  width: z.enum(['words', 'half', 'full']).optional(),
  /** A button filled with the accent, or in its outline only. */
  button: z.enum(['filled', 'outlined']).optional(),
  /** A picture as wide as the sheet, without a margin. */
  edge: z.boolean().optional(),
  /** What a divider is drawn as. */
  line: z.enum(['thin', 'thick', 'dotted', 'short']).optional(),
  /** Seen on phones only, or on wider screens only. */
  only: z.enum(['phones', 'wide']).optional(),
})
export type BlockStyle = z.infer<typeof styleSchema>
export type StylePart = keyof BlockStyle
