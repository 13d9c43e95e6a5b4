import {
  AlignCenter,
  AlignLeft,
  AlignRight,
  Circle,
  Monitor,
  Smartphone,
  Square,
  SquareRoundCorner,
} from 'lucide-react'
import type { ReactNode } from 'react'
import type { Block } from '../../../../../core/blocks/blocks.ts'
import { bandColours } from '../../../../../core/messages/palette.ts'
import {
  BANDS,
  INKS,
  type Band,
  type BlockStyle,
  type Ink,
  type StylePart,
} from '../../../../../core/blocks/style.ts'
import type { Brand } from '../../../../../core/messages/brand.ts'
import { useBrand } from '../../../../ui/data/useBrand.ts'
import { Segments, type Segment } from '../../../../ui/fields/Segments.tsx'
import { TickField } from '../../../../ui/fields/TickField.tsx'
import { STYLE_PARTS } from './styleParts.ts'

interface Props<One extends Block> {
  block: One
  onChange: (block: One, touching?: string) => void
  /** In a column nothing is as wide as the sheet, or left out by itself. */
  isInColumn?: boolean
}

/** How a block looks, within what the brand allows. What is not chosen is as its kind begins. */
export function StyleForm<One extends Block>({
  block,
  onChange,
  isInColumn,
}: Props<One>): ReactNode {
  const brand = useBrand()
  const { style = {} } = block
  const parts = STYLE_PARTS[block.kind].filter((part) => !isInColumn || !OF_SHEET.has(part))
  const set = (to: Partial<BlockStyle>) => {
    const next = Object.fromEntries(
      Object.entries({ ...style, ...to }).filter(([, value]) => value !== undefined && value !== null), // prettier-ignore
    ) as BlockStyle
    const { style: _before, ...rest } = block
    const bare = rest as unknown as One
    onChange(Object.keys(next).length === 0 ? bare : { ...bare, style: next }, `style ${block.key}`)
  }
  if (parts.length === 0 || !brand) return null
  return (
    <section className="mt-1 mb-3" aria-label="How it looks">
      <h3 className="field-label">How it looks</h3>
      {parts.map((part) => (
        <Part key={part} part={part} style={style} set={set} colours={brand.colours} />
      ))}
    </section>
  )
}

const OF_SHEET: ReadonlySet<StylePart> = new Set(['edge', 'only'])

interface PartProps {
  part: StylePart
  style: BlockStyle
  set: (to: Partial<BlockStyle>) => void
  colours: Brand['colours']
}

function Part({ part, style, set, colours }: PartProps): ReactNode {
  if (part === 'edge') {
    return (
      <TickField className="mb-2" checked={style.edge ?? false} onChange={(edge) => set({ edge: edge || undefined })}>
        As wide as the sheet
      </TickField>
    )
  }
  if (part === 'band') {
    const bands = BANDS.map((value) => ({ value, label: BAND_WORDS[value], sign: <Swatch colour={bandColours(colours, value).band} /> }))
    return <Segments label="Background" value={style.band ?? null} choices={bands} onChange={(band) => set({ band: band ?? undefined })} />
  }
  if (part === 'ink') {
    const on = bandColours(colours, style.band ?? 'paper')
    const inks = INKS.map((value) => ({ value, label: INK_WORDS[value], sign: <Swatch colour={on[value]} /> }))
    return <Segments label="Colour" value={style.ink ?? null} choices={inks} onChange={(ink) => set({ ink: ink ?? undefined })} />
  }
  const { label, choices } = CHOICES[part]
  return (
    <Segments<string>
      label={label}
      value={(style[part] as string | undefined) ?? null}
      choices={choices}
      onChange={(value) => set({ [part]: value ?? undefined })}
    />
  )
} // prettier-ignore

const BAND_WORDS: Readonly<Record<Band, string>> = {
  paper: 'Paper, as all of it',
  ground: 'As around the message',
  tint: 'A breath of the accent',
  accent: 'The accent',
  ink: 'Dark',
}
const INK_WORDS: Readonly<Record<Ink, string>> = {
  ink: 'As texts are',
  quiet: 'Quieter',
  accent: 'The accent',
}

const Swatch = ({ colour }: { colour: string }): ReactNode => (
  <span
    aria-hidden="true"
    className="size-4 rounded-full border border-base-content/30"
    style={{ background: colour }}
  />
)

const SPACE_CHOICES: readonly Segment<string>[] = [
  { value: 'none', label: 'none' },
  { value: 'small', label: 'small' },
  { value: 'medium', label: 'some' },
  { value: 'large', label: 'large' },
  { value: 'huge', label: 'huge' },
]

type Plain = Exclude<StylePart, 'edge' | 'band' | 'ink'>

const CHOICES: Readonly<Record<Plain, { label: string; choices: readonly Segment<string>[] }>> = {
  align: {
    label: 'Alignment',
    choices: [
      { value: 'left', label: 'Left', sign: <AlignLeft size={14} /> },
      { value: 'center', label: 'In the middle', sign: <AlignCenter size={14} /> },
      { value: 'right', label: 'Right', sign: <AlignRight size={14} /> },
    ],
  },
  size: {
    label: 'Size',
    choices: [
      { value: 'small', label: 'small' },
      { value: 'normal', label: 'normal' },
      { value: 'large', label: 'large' },
      { value: 'huge', label: 'huge' },
    ],
  },
  above: { label: 'Space above', choices: SPACE_CHOICES },
  below: { label: 'Space below', choices: SPACE_CHOICES },
  corners: {
    label: 'Corners',
    choices: [
      { value: 'square', label: 'Square', sign: <Square size={14} /> },
      { value: 'soft', label: 'Soft', sign: <SquareRoundCorner size={14} /> },
      { value: 'round', label: 'Round', sign: <span aria-hidden="true" className="size-3.5 rounded-md border-2 border-current" /> },
      { value: 'pill', label: 'As round as can be', sign: <Circle size={14} /> },
    ],
  },
  width: {
    label: 'Width',
    choices: [
      { value: 'words', label: 'its words' },
      { value: 'half', label: 'half' },
      { value: 'full', label: 'all of it' },
    ],
  },
  button: {
    label: 'Drawn',
    choices: [
      { value: 'filled', label: 'filled' },
      { value: 'outlined', label: 'in outline' },
    ],
  },
  line: {
    label: 'Line',
    choices: [
      { value: 'thin', label: 'thin' },
      { value: 'thick', label: 'thick' },
      { value: 'dotted', label: 'dotted' },
      { value: 'short', label: 'short' },
    ],
  },
  only: {
    label: 'Seen',
    choices: [
      { value: 'phones', label: 'On phones only', sign: <Smartphone size={14} /> },
      { value: 'wide', label: 'On wider screens only', sign: <Monitor size={14} /> },
    ],
  },
} // prettier-ignore
