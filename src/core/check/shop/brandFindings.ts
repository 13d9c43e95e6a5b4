import type { Block } from '../../blocks/blocks.ts'
import type { Band } from '../../blocks/style.ts'
import type { Brand } from '../../messages/brand.ts'
import { contrast, READABLE } from '../../messages/colours.ts'
import { hasFixedWords } from '../../messages/fixedWords.ts'
import { bandColours, darkBandColours, type BandColours } from '../../messages/palette.ts'
import { languageName } from '../../words/languageNames.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps } from '../../workflow/lists.ts'
import type { EmailStep } from '../../workflow/steps.ts'
import { advises, type Finding } from '../finding.ts'

/** What does not go together between the messages of a workflow and the shop's brand: colours that cannot be read, words that are not there. */
export function brandFindings(definition: Definition, brand: Brand): Finding[] {
  return allSteps(definition.steps)
    .filter((step) => step.kind === 'email')
    .flatMap((message) => [...contrastFindings(message, brand), ...wordFindings(message, brand)])
}

function contrastFindings(message: EmailStep, { colours }: Brand): Finding[] {
  if (message.format !== 'designed') return []
  const place = { kind: 'step', key: message.key } as const
  const unreadable = (message.blocks ?? []).flatMap((block) =>
    onBands(block, 'paper').flatMap(({ block: one, band }) => {
      const light = lowest(one, bandColours(colours, band))
      const dark = lowest(one, darkBandColours(colours, band))
      const worst = Math.min(light, dark)
      return worst >= 1 ? [] : [{ one, worst, isDark: dark < light }]
    }),
  )
  const [first] = unreadable
  if (!first) return []
  const where = first.isDark ? ' where mail programs show it dark' : ''
  const title = `“${message.name}” has words that are hard to read on their background${where}.`
  const detail = 'They differ too little in brightness (WCAG 2.2, 1.4.3). Take another colour or background for the block, or change the brand’s colours.' // prettier-ignore
  return [{ ...advises('contrast', place, title, detail), part: { kind: 'block', key: first.one.key } }] // prettier-ignore
}

/** A block, and those in its columns, with what each stands on. */
function onBands(block: Block, on: Band): { block: Block; band: Band }[] {
  const band = block.style?.band ?? on
  if (block.kind !== 'columns') return [{ block, band }]
  return block.columns.flat().flatMap((one) => onBands(one, band))
}

const NOTHING_TO_READ: ReadonlySet<Block['kind']> = new Set(['columns', 'divider', 'image', 'kept']) // prettier-ignore
const BUTTONS: ReadonlySet<Block['kind']> = new Set(['button', 'tracking'])
/** What these show is, or has in it, a link. */
const LINKS: ReadonlySet<Block['kind']> = new Set(['help', 'menu', 'social'])

/** The least contrast in a block, as a share of what it has to have. */
function lowest(block: Block, on: BandColours): number {
  const { kind, style = {} } = block
  const share = (ink: string, ground: string, least: number = READABLE.text) =>
    contrast(ink, ground) / least
  if (NOTHING_TO_READ.has(kind)) return Infinity
  if (BUTTONS.has(kind)) {
    return style.button === 'outlined' ? share(on.outline, on.band) : share(on.onButton, on.button)
  }
  const ink = on[style.ink ?? 'ink']
  // 24 CSS pixels, or 19 in bold: headings are all of that.
  if (kind === 'heading') return share(ink, on.band, READABLE.large)
  const hasLinks = LINKS.has(kind) || (kind === 'text' && JSON.stringify(block).includes('"href"'))
  return Math.min(share(ink, on.band), hasLinks ? share(on.accent, on.band) : Infinity)
}

/** What messages say by themselves is in English where nobody has said it in their language. */
function wordFindings(message: EmailStep, { languages = {} }: Brand): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const missing = Object.keys(message.translations ?? {}).filter((tag) => !hasFixedWords(tag, languages)) // prettier-ignore
  return missing.map((tag) => {
    const name = languageName(tag, 'en')
    const title = `“${message.name}” is written in ${name}, but “Total”, “Shipping” and the way out are not.`
    const detail = 'These words come with Yomble in a few languages. Put those of this one into the brand’s file, under “languages”.' // prettier-ignore
    return advises(`fixed-words-${tag}`, place, title, detail)
  })
}
