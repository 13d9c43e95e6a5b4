import { textsIn, type TextUse } from '../../blocks/blockTexts.ts'
import type { Block } from '../../blocks/blocks.ts'
import { isNowhere, linkProblem, siteOf, type LinkProblem } from '../../messages/links.ts'
import { blocksOf, changeTexts, partsOf } from '../../workflow/templates.ts'
import type { EmailStep } from '../../workflow/steps.ts'
import { advises, stops, type Finding } from '../finding.ts'
import { changingMessage } from '../mend.ts'

/** Whether the links and images of an email can be opened by whoever gets it. */
export function linkFindings(message: EmailStep): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const site = siteOf(message.sender.address)
  const broken = blocksOf(message).flatMap((block): Finding[] => {
    const problem = firstProblem(block, site)
    return problem ? [brokenFinding(message, block, problem)] : []
  })
  const open = partsOf(message).find(({ template }) => template.search(WITHOUT_TLS) !== -1)
  if (!open) return broken
  const title = `“${message.name}” has a link with http.`
  const detail = 'Browsers warn of pages without https. Write https.'
  const repair = {
    label: 'Write https',
    mend: changingMessage(message.key, (one) =>
      changeTexts(one, (text) => text.replaceAll(WITHOUT_TLS, 'https://')),
    ),
  }
  return [...broken, { ...advises('http-link', place, title, detail), part: open.part, repair }]
}

const WITHOUT_TLS = /\bhttp:\/\/(?=[^\s"'<])/gi

/** A text of a block that does not lead where it should. */
interface Broken extends LinkProblem {
  text: string
  use: TextUse
}

function firstProblem(block: Block, site: string | null): Broken | null {
  for (const { text, use } of textsIn(block)) {
    // That an image is missing is found with its block.
    const isLink = use === 'link' || (use === 'image' && !isNowhere(text))
    const problem = isLink ? linkProblem(text, site) : null
    if (problem) return { ...problem, text, use }
  }
  return null
}

const WHAT: Partial<Record<Block['kind'], string>> = {
  button: 'a button',
  menu: 'a link of the menu',
}

function brokenFinding(message: EmailStep, block: Block, problem: Broken): Finding {
  const { text, use, says, detail, better } = problem
  const place = { kind: 'step', key: message.key } as const
  const what =
    use === 'image'
      ? `an image ${says.replace('leads to', 'is at')}`
      : `${WHAT[block.kind] ?? 'a link'} ${says}`
  const title = `“${message.name}”: ${what}.`
  const part = { kind: 'block', key: block.key } as const
  const finding = { ...stops(`link-${block.key}`, place, title, detail), part }
  if (better === null) return finding
  const mend = changingMessage(message.key, (one) =>
    changeTexts(one, (before, at) => (at === use && before === text ? better : before)),
  )
  return { ...finding, repair: { label: `Make it ${shortened(better)}`, mend } }
}

/** An address as it fits on a button; of one with a merge field what stands in. */
function shortened(address: string): string {
  const shown = /\|\s*default\s*:\s*"([^"]*)"/.exec(address)?.[1] ?? address
  return shown.length > 40 ? `${shown.slice(0, 39)}…` : shown
}
