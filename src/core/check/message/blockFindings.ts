import { blockFits } from '../../messages/blockFits.ts'
import type { Block, BlockKind } from '../../blocks/blocks.ts'
import { templatesIn } from '../../blocks/blockTexts.ts'
import { isNowhere } from '../../messages/links.ts'
import { readableTemplate, templateParts } from '../../messages/mergeFields.ts'
import { blocksOf } from '../../workflow/templates.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps } from '../../workflow/lists.ts'
import type { EmailStep } from '../../workflow/steps.ts'
import { subjectOf } from '../../workflow/trigger.ts'
import { advises, stops, type Finding } from '../finding.ts'
import { linkFindings } from './linkFindings.ts'
import { reachedSteps } from '../flow/ways.ts'

/** What a phone shows of a subject, about (common practice). */
const PHONE_SUBJECT = 60
/** What a merge field prints there, about. */
const FIELD_LENGTH = 10

/** Whether what is seen of emails is right: their subjects, links, images, and blocks. */
export function blockFindings(definition: Definition): Finding[] {
  // A code that some get and others not is found with the merge fields.
  const withCoupon = new Set(
    reachedSteps(definition).flatMap(({ step, coupon }) => (coupon === 'none' ? [] : [step.key])),
  )
  return allSteps(definition.steps)
    .filter((step) => step.kind === 'email')
    .flatMap((message) => [
      ...ownBlockFindings(message, (kind) =>
        blockFits(kind, definition.trigger, withCoupon.has(message.key)),
      ),
      ...linkFindings(message),
      ...invoiceFindings(message, definition),
      ...documentFindings(message),
      ...subjectFindings(message),
      ...previewFindings(message),
    ])
}

/** Without a preview text, lists of mails show what comes first: of a menu, its links. */
function previewFindings(message: EmailStep): Finding[] {
  const [first] = blocksOf(message)
  if (message.format !== 'designed' || message.previewText.trim() !== '') return []
  if (first?.kind !== 'menu') return []
  const place = { kind: 'step', key: message.key } as const
  const title = `“${message.name}” has no preview text, and begins with its menu.`
  const detail = 'Beside the subject, the inbox then shows the links of the menu. Say in a line what it is about.'
  return [{ ...advises('no-preview-text', place, title, detail), part: { kind: 'previewText' } }]
} // prettier-ignore

function ownBlockFindings(message: EmailStep, fits: (kind: BlockKind) => boolean): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const name = `“${message.name}”`
  const blocks = blocksOf(message)
  const errors = blocks.flatMap((block): Finding[] => {
    const problem = fits(block.kind) ? blockProblem(block) : NOTHING_TO_SHOW[block.kind]
    if (!problem) return []
    return [at(block, stops(`block-${block.key}`, place, `${name}: ${problem[0]}`, problem[1]))]
  })
  const liquid = blocks.find((block) => templatesIn(block).some(isLiquid))
  const images = blocks.filter(({ kind }) => kind === 'image')
  const unseen = images.find((block) => block.kind === 'image' && block.alt.trim() === '')
  const onlyImages = images.length > 0 && blocks.every(({ kind }) => !SAYS_SOMETHING.has(kind))
  return [
    ...errors,
    ...(liquid ? [at(liquid, stops('block-liquid', place, `${name} has a tag or filter in its blocks, where it would be printed as it is.`, 'Give the block a condition instead. Merge fields and their fallbacks are all that words of blocks know.'))] : []),
    ...(unseen ? [at(unseen, advises('image-alt', place, `${name} has an image without a description.`, 'Say what it shows: many read mail without images, and some cannot see them.'))] : []),
    // Apache SpamAssassin's stock rules count mail of images only against it (HTML_IMAGE_ONLY, from memory).
    ...(onlyImages ? [advises('only-images', place, `${name} is made of images only.`, 'Without them nothing is left, and filters take it for advertising. Say the main thing in words.')] : []),
  ]
} // prettier-ignore

const at = ({ key }: Block, finding: Finding): Finding => ({
  ...finding,
  part: { kind: 'block', key },
})
const within = (kind: 'subject' | 'envelope', finding: Finding): Finding => ({
  ...finding,
  part: { kind },
})

/** True for what only letters and plain mails understand: {% tags %}, and filters but `default` and `as`. */
function isLiquid(template: string): boolean {
  // What stands in quotes is a fallback's text.
  const bare = template.replaceAll(/\{\{[^{}]*\}\}/g, (tag) =>
    tag.replaceAll(/"[^"]*"|'[^']*'/g, '""'),
  )
  return /\{%|\{\{[^{}]*\|\s*(?!(?:default|as)\s*:)[a-z]/i.test(bare)
}

const SAYS_SOMETHING: ReadonlySet<BlockKind> = new Set([
  'heading',
  'text',
  'items',
  'summary',
  'coupon',
  'help',
  'html',
])

type Problem = readonly [title: string, detail: string]

const NOTHING_TO_SHOW: Partial<Record<BlockKind, Problem>> = {
  items: ['there are no items to show.', 'This trigger brings none. Take the block out.'],
  summary: ['there is no order to sum up.', 'This trigger brings none. Take the block out.'],
  tracking: ['there is no parcel to follow.', 'This trigger brings no order. Take the block out.'],
  coupon: ['there is no code to show.', 'Put a coupon step before the message, or take the block out.'], // prettier-ignore
}

function blockProblem(block: Block): Problem | null {
  switch (block.kind) {
    case 'button':
      return block.label.trim() === '' ? ['a button has no words.', 'Say what it does.'] : null
    case 'image':
      return isNowhere(block.src) ? ['an image is missing.', 'Take one, or remove the block.'] : null // prettier-ignore
    case 'html':
      return hasFieldInTag(block.html)
        ? ['a merge field stands in a tag of its own HTML.', 'They can stand in its text only.']
        : null
    case 'columns':
    case 'coupon':
    case 'divider':
    case 'heading':
    case 'help':
    case 'items':
    case 'kept':
    case 'menu':
    case 'products':
    case 'social':
    case 'summary':
    case 'text':
    case 'tracking':
      return null
  }
}

function hasFieldInTag(html: string): boolean {
  let isInTag = false
  return templateParts(html).some((part) => {
    if (typeof part !== 'string') return isInTag
    const opened = part.lastIndexOf('<')
    const closed = part.lastIndexOf('>')
    if (opened !== closed) isInTag = opened > closed
    return false
  })
}

function invoiceFindings({ key, name, invoice }: EmailStep, { trigger }: Definition): Finding[] {
  if (!invoice || subjectOf(trigger) === 'order') return []
  const title = `“${name}” has no order to make an invoice of.`
  const detail = 'This trigger brings none. Send it without.'
  return [within('envelope', stops('invoice', { kind: 'step', key }, title, detail))]
}

/** From here on a mail takes noticeably long on a phone; servers refuse from about 10 MB (common practice). */
const HEAVY_BYTES = 2_000_000

function documentFindings({ key, name, documents = [] }: EmailStep): Finding[] {
  const bytes = documents.reduce((sum, one) => sum + one.bytes, 0)
  if (bytes <= HEAVY_BYTES) return []
  const title = `The files with “${name}” are ${(bytes / 1_000_000).toFixed(1)} MB.`
  const detail = 'They go to everybody anew, and some servers refuse so much. A link is lighter.'
  return [within('envelope', advises('documents-heavy', { kind: 'step', key }, title, detail))]
}

function subjectFindings(message: EmailStep): Finding[] {
  const place = { kind: 'step', key: message.key } as const
  const subject = readableTemplate(message.subject).trim()
  const letters = subject.replaceAll(/\[[^\]]*\]|[^\p{L}]/gu, '')
  const length = templateParts(message.subject.trim()).reduce(
    (sum, part) => sum + (typeof part === 'string' ? part.length : FIELD_LENGTH),
    0,
  )
  const isLong = length > PHONE_SUBJECT
  // A stock rule of Apache SpamAssassin (SUBJ_ALL_CAPS, from memory).
  const isLoud = letters.length > 9 && letters === letters.toUpperCase()
  return [
    ...(isLong ? [within('subject', advises('long-subject', place, `The subject of “${message.name}” is too long for a phone.`, `It has about ${length} characters, and ${PHONE_SUBJECT} are seen. Put first what matters.`))] : []),
    ...(isLoud ? [within('subject', advises('loud-subject', place, `The subject of “${message.name}” is all in capitals.`, 'It reads as shouting, and filters count it as spam.'))] : []),
  ]
} // prettier-ignore
