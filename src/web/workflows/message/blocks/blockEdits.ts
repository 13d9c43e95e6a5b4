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
