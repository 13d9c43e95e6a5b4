import type { Block, LeafBlock } from '../blocks/blocks.ts'
import { sameDocument } from '../shared/sameDocument.ts'

/**
 * A message after a change of the design that it was made of. What was written or styled in the message
 * stays; everything that was still as the design had it follows the design. Blocks are told by their keys.
 */
export function takeOver(
  mine: readonly Block[],
  before: readonly Block[],
  after: readonly Block[],
): Block[] {
  return merged(mine, before, after, mergedBlock)
}

type Merge<One> = (mine: One, before: One | undefined, after: One) => One

function merged<One extends Block>(
  mine: readonly One[],
  before: readonly One[],
  after: readonly One[],
  merge: Merge<One>,
): One[] {
  const find = (blocks: readonly One[], key: string) => blocks.find((one) => one.key === key)
  const wanted = after.flatMap((block) => {
    const own = find(mine, block.key)
    const old = find(before, block.key)
    if (own) return [own.kind === block.kind ? merge(own, old, block) : own]
    // Who has taken it out does not want it back.
    return old ? [] : [block]
  })
  const own = mine.filter(({ key }) => !find(after, key)).filter((block) => {
    const old = find(before, block.key)
    return !old || !sameDocument(old, block)
  }) // prettier-ignore
  return own.reduce((blocks, block) => putBehind(blocks, block, mine), wanted)
}

/** Puts a block behind the nearest that stood before it where it was. */
function putBehind<One extends Block>(
  blocks: readonly One[],
  block: One,
  where: readonly One[],
): One[] {
  const place = where.indexOf(block)
  const before = where.slice(0, place).toReversed()
  const behind = before.find(({ key }) => blocks.some((one) => one.key === key))
  const at = behind ? blocks.findIndex(({ key }) => key === behind.key) + 1 : 0
  return [...blocks.slice(0, at), block, ...blocks.slice(at)]
}

function mergedBlock(mine: Block, before: Block | undefined, after: Block): Block {
  if (mine.kind !== 'columns' || after.kind !== 'columns') return mergedParts(mine, before, after)
  const old = before?.kind === 'columns' ? before.columns : []
  const count = Math.max(after.columns.length, mine.columns.length)
  const columns = Array.from({ length: count }, (_, index) =>
    merged<LeafBlock>(
      mine.columns[index] ?? [],
      old[index] ?? [],
      after.columns[index] ?? [],
      (one, was, becomes) => mergedParts(one, was, becomes) as LeafBlock,
    ),
  ).filter((column, index) => index < after.columns.length || column.length > 0)
  const rest = mergedParts({ ...mine, columns }, before && { ...before, columns } as Block, { ...after, columns }) // prettier-ignore
  return { ...rest, columns } as Block
}

/** Each part of a block by itself: its own where it was changed, else as the design has it. */
function mergedParts(mine: Block, before: Block | undefined, after: Block): Block {
  const own = mine as unknown as Record<string, unknown>
  const old = (before ?? {}) as unknown as Record<string, unknown>
  const next = after as unknown as Record<string, unknown>
  const keys = [...new Set([...Object.keys(own), ...Object.keys(next)])]
  const parts = keys.map((key): [string, unknown] => {
    const isChanged = !sameDocument(own[key], old[key])
    return [key, isChanged ? own[key] : next[key]]
  })
  return Object.fromEntries(parts.filter(([, value]) => value !== undefined)) as unknown as Block
}
