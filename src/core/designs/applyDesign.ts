import { allBlocks, type Block, type BlockKind, type LeafBlock } from '../blocks/blocks.ts'

/** Blocks whose words are somebody's own work: they never go because a design has no place for them. */
const HAS_WORDS: ReadonlySet<BlockKind> = new Set(['heading', 'text', 'button', 'coupon', 'html', 'image', 'kept', 'menu']) // prettier-ignore

/**
 * A message in another design. What its blocks say goes into the design's places of the same kind, in
 * order; the places that are left keep the design's own words. Blocks with words that find no place
 * follow at the end, looking as they did. Blocks without words are the design's.
 */
export function applyDesign(message: readonly Block[], design: readonly Block[]): Block[] {
  const words = allBlocks(message).filter(
    (block): block is LeafBlock => block.kind !== 'columns' && HAS_WORDS.has(block.kind),
  )
  const used = new Set<LeafBlock>()
  const filled = <One extends LeafBlock>(place: One): One => {
    const own = words.find((one) => one.kind === place.kind && !used.has(one))
    if (!own) return place
    used.add(own)
    return dressed(own, place) as One
  }
  const blocks = design.map((block): Block =>
    block.kind === 'columns'
      ? { ...block, columns: block.columns.map((column) => column.map(filled)) }
      : filled(block),
  )
  return withFreshKeys([...blocks, ...words.filter((one) => !used.has(one))])
}

/** What a block says, looking as its place in a design does. */
function dressed(own: LeafBlock, place: LeafBlock): LeafBlock {
  const { style: _own, key: _key, ...content } = own
  const { key, style } = place
  const level = own.kind === 'heading' && place.kind === 'heading' ? { level: place.level } : {}
  return { ...content, ...level, key, ...(style && { style }) }
}

/** Keys that stand twice get a number. */
function withFreshKeys(blocks: readonly Block[]): Block[] {
  const taken = new Set<string>()
  const fresh = <One extends Block>(block: One): One => {
    let key = block.key
    for (let number = 2; taken.has(key); number += 1) key = `${block.key}-${number}`
    taken.add(key)
    return key === block.key ? block : { ...block, key }
  }
  return blocks.map((block) => {
    const own = fresh(block)
    if (own.kind !== 'columns') return own
    return { ...own, columns: own.columns.map((column) => column.map(fresh)) }
  })
}
