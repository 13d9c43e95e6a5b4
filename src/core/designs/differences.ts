import { templatesIn } from '../blocks/blockTexts.ts'
import { allBlocks, paragraphText, type Block, type BlockKind } from '../blocks/blocks.ts'
import { readableTemplate } from '../messages/mergeFields.ts'
import { sameDocument } from '../shared/sameDocument.ts'

/** What a kind of block is called within a sentence. */
const NAMES: Readonly<Record<BlockKind, string>> = {
  heading: 'the heading',
  text: 'the text',
  button: 'the button',
  image: 'the image',
  items: 'the items',
  summary: 'the order summary',
  tracking: 'the tracking button',
  coupon: 'the coupon',
  columns: 'the columns',
  products: 'the products',
  divider: 'a divider',
  menu: 'the menu',
  social: 'the social links',
  help: 'the help line',
  kept: 'a kept block',
  html: 'the own HTML',
}

/** What differs between two states of a message, a sentence each: what is new, gone, reads or looks otherwise, or stands elsewhere. */
export function blockDifferences(before: readonly Block[], after: readonly Block[]): string[] {
  const was = new Map(allBlocks(before).map((block) => [block.key, block]))
  const is = new Map(allBlocks(after).map((block) => [block.key, block]))
  const sentences = [...is.values()].flatMap((block) => {
    const old = was.get(block.key)
    return old ? changes(old, block) : [`${nameOf(block)} is new.`]
  })
  const gone = [...was.values()].filter(({ key }) => !is.has(key))
  const kept = (all: ReadonlyMap<string, Block>, other: ReadonlyMap<string, Block>) => [...all.keys()].filter((key) => other.has(key)) // prettier-ignore
  const isMoved = !sameDocument(kept(was, is), kept(is, was))
  return [
    ...sentences,
    ...gone.map((block) => `${nameOf(block)} goes.`),
    ...(isMoved ? ['Blocks stand in another order.'] : []),
  ].map((sentence) => sentence.charAt(0).toUpperCase() + sentence.slice(1))
}

function changes(before: Block, after: Block): string[] {
  if (sameDocument(bare(before), bare(after))) {
    return sameDocument(before.style, after.style) ? [] : [`${nameOf(after)} looks different.`]
  }
  const looks = sameDocument(before.style, after.style) ? '' : ', and looks different'
  if (sameDocument(wordsOf(before), wordsOf(after))) return [`${nameOf(after)} shows something else${looks}.`] // prettier-ignore
  return [`${nameOf(before)} reads “${short(wordsOf(after))}”${looks}.`]
}

/** A block without how it looks, and without those in its columns, which are told by themselves. */
const bare = ({ style: _style, ...block }: Block): object =>
  block.kind === 'columns' ? { ...block, columns: block.columns.map((column) => column.length > 0) } : block // prettier-ignore

const wordsOf = (block: Block): string =>
  block.kind === 'text'
    ? readableTemplate(paragraphText(block.text))
    : readableTemplate(templatesIn(block)[0] ?? '')

function nameOf(block: Block): string {
  const words = short(wordsOf(block))
  return words === '' ? NAMES[block.kind] : `${NAMES[block.kind]} “${words}”`
}

const short = (words: string): string => {
  const line = words.replaceAll(/\s+/g, ' ').trim()
  return line.length <= 40 ? line : `${line.slice(0, 39).trimEnd()}…`
}
