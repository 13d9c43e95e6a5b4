import { allBlocks, type Block, type LeafBlock } from '../../../../core/blocks/blocks.ts'
import { freshBlockKey } from './blockKinds.ts'

/** A block with others in place of one. */
export function replaceBlock<One extends Block>(
  blocks: readonly One[],
  key: string,
  to: readonly One[],
): One[] {
  return blocks.flatMap((block) => (block.key === key ? to : [block]))
}

/** The blocks with one moved to a place among them. */
export function moveBlock<One>(blocks: readonly One[], from: number, to: number): One[] {
  const moved = [...blocks]
  const taken = moved.splice(from, 1)
  moved.splice(Math.max(0, Math.min(to, moved.length)), 0, ...taken)
  return moved
}

/** A block and its copy, with keys that nothing in the message has. */
export function withCopy<One extends Block>(block: One, all: readonly Block[]): One[] {
  const known: Block[] = [...allBlocks(all)]
  const fresh = <Any extends Block>(one: Any): Any => {
    const copy = { ...one, key: freshBlockKey(known, one.key) }
    known.push(copy)
    return copy
  }
  const copy: Block = fresh(block)
  if (copy.kind !== 'columns') return [block, copy as One]
  const columns = copy.columns.map((column) => column.map((one: LeafBlock) => fresh(one)))
  return [block, { ...copy, columns } as Block as One]
}

/** The lists that blocks stand in, each changed: the message's own, and those of its columns. */
function inEachList(
  blocks: readonly Block[],
  change: <One extends Block>(list: readonly One[]) => One[],
): Block[] {
  return change(blocks).map((block) =>
    block.kind === 'columns'
      ? { ...block, columns: block.columns.map((column) => change(column)) }
      : block,
  )
}

/** A message with others in the place of one block, wherever it stands. */
export const withBlock = (blocks: readonly Block[], key: string, to: readonly Block[]): Block[] =>
  inEachList(blocks, (list) => replaceBlock(list, key, to as never))

/** A message with a block further up (−1) or down (1) in its list. */
export const moveBy = (blocks: readonly Block[], key: string, by: number): Block[] =>
  inEachList(blocks, (list) => {
    const at = list.findIndex((block) => block.key === key)
    return at === -1 ? [...list] : moveBlock(list, at, at + by)
  })

/** A message with a block behind another, in the same list. */
export const insertBehind = (blocks: readonly Block[], key: string, block: Block): Block[] =>
  inEachList(blocks, (list) => {
    const at = list.findIndex((one) => one.key === key)
    return at === -1 ? [...list] : ([...list.slice(0, at + 1), block, ...list.slice(at + 1)] as never)
  }) // prettier-ignore

export type Side = 'before' | 'after'

/**
 * A message with a block taken from where it stands and put beside another, in a column or out of
 * one. Nothing changes where it may not stand: columns in a column, a block beside one of its own.
 */
export function moveBeside(
  blocks: readonly Block[],
  key: string,
  target: string,
  side: Side,
): Block[] {
  const moved = allBlocks(blocks).find((block) => block.key === key)
  const isTop = blocks.some((block) => block.key === target)
  const own = moved ? allBlocks([moved]).map((block) => block.key) : []
  if (!moved || own.includes(target) || (moved.kind === 'columns' && !isTop)) return [...blocks]
  return inEachList(withBlock(blocks, key, []), (list) =>
    list.flatMap((block) => {
      if (block.key !== target) return [block]
      return (side === 'before' ? [moved, block] : [block, moved]) as never
    }),
  )
}

/** A message with a block twice, in the same list. */
export const withCopyOf = (blocks: readonly Block[], key: string): Block[] =>
  inEachList(blocks, (list) =>
    list.flatMap((block) => (block.key === key ? withCopy(block, blocks) : [block])),
  )
