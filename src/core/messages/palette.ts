import type { Brand } from './brand.ts'
import { mix } from './colours.ts'
import type { Band, Ink } from '../blocks/style.ts'

/** What things are drawn in on one band: text in each ink, buttons, lines. */
export interface BandColours extends Readonly<Record<Ink, string>> {
  band: string
  button: string
  onButton: string
  /** Buttons that are drawn in outline. */
  outline: string
  rule: string
}

type Colours = Brand['colours']

/** The colours of a band, all of them the brand's or between two of the brand's. */
export function bandColours(colours: Colours, band: Band): BandColours {
  const { ground, paper, ink, accent, onAccent } = colours
  switch (band) {
    case 'paper':
      return light(colours, paper)
    case 'ground':
      return light(colours, ground)
    case 'tint':
      return light(colours, mix(accent, paper, 0.9))
    case 'accent':
      return {
        band: accent,
        ink: onAccent,
        quiet: mix(onAccent, accent, 0.12),
        accent: onAccent,
        button: onAccent,
        onButton: accent,
        outline: onAccent,
        rule: mix(onAccent, accent, 0.6),
      }
    case 'ink':
      return {
        band: ink,
        ink: paper,
        quiet: mix(paper, ink, 0.25),
        accent: mix(accent, paper, 0.65),
        button: paper,
        onButton: ink,
        outline: paper,
        rule: mix(paper, ink, 0.75),
      }
  }
}

const light = ({ ink, accent, onAccent }: Colours, band: string): BandColours => ({
  band,
  ink,
  quiet: mix(ink, band, 0.32),
  accent,
  button: accent,
  onButton: onAccent,
  outline: accent,
  rule: mix(ink, band, 0.82),
})

/** What mail programs with a dark side show in place of the light bands; the others are dark, or the brand's own, anyway. */
export const DARK = { ground: '#121716', paper: '#1c2322', ink: '#ece7dc', quiet: '#a7aea9', rule: '#39423f' } as const // prettier-ignore

/** The same colours on the dark side. What stands on the accent, or on a dark band, keeps its own. */
export function darkBandColours(colours: Colours, band: Band): BandColours {
  const own = bandColours(colours, band)
  if (band === 'accent') return own
  if (band === 'ink') return { ...own, band: '#0a0e0d' }
  const link = mix(colours.accent, '#ffffff', 0.5)
  const fill = {
    paper: DARK.paper,
    ground: DARK.ground,
    tint: mix(colours.accent, DARK.paper, 0.8),
  }
  return {
    band: fill[band],
    ink: DARK.ink,
    quiet: DARK.quiet,
    accent: link,
    button: colours.accent,
    onButton: colours.onAccent,
    outline: link,
    rule: DARK.rule,
  }
}
