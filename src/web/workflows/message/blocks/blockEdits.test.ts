import { expect, test } from 'vitest'
import { allBlocks, type Block } from '../../../../core/blocks/blocks.ts'
import { moveBeside, moveBlock, replaceBlock, withCopy } from './blockEdits.ts'
import { newBlock } from './blockKinds.ts'

const text = (key: string): Extract<Block, { kind: 'help' }> => ({ key, kind: 'help', text: key })
const keys = (blocks: readonly Block[]) => allBlocks(blocks).map(({ key }) => key)

test('a copy has keys of its own, also in its columns', () => {
  const columns: Block = { key: 'columns-1', kind: 'columns', columns: [[text('help-1')], [text('help-2')]] } // prettier-ignore
  const all = [columns, text('help-3')]
  const copied = withCopy(columns, all)
  expect(keys(copied)).toEqual(['columns-1', 'help-1', 'help-2', 'columns-2', 'help-4', 'help-5'])
})

test('moved within bounds, taken out, replaced', () => {
  const all = ['a', 'b', 'c'].map(text)
  expect(keys(moveBlock(all, 0, 2))).toEqual(['b', 'c', 'a'])
  expect(keys(moveBlock(all, 2, -1))).toEqual(['c', 'a', 'b'])
  expect(keys(replaceBlock(all, 'b', []))).toEqual(['a', 'c'])
})

test('new blocks have keys that are free', () => {
  expect(newBlock([text('heading-1')], 'heading').key).toBe('heading-2')
})

test('dragged beside another, into a column and out of it, but never where it may not stand', () => {
  const columns: Block = { key: 'columns-1', kind: 'columns', columns: [[text('a')], [text('b')]] }
  const all = [text('c'), columns, text('d')]
  expect(keys(moveBeside(all, 'd', 'c', 'before'))).toEqual(['d', 'c', 'columns-1', 'a', 'b'])
  expect(keys(moveBeside(all, 'c', 'd', 'after'))).toEqual(['columns-1', 'a', 'b', 'd', 'c'])
  const inside = moveBeside(all, 'c', 'b', 'after')
  expect(inside[0]).toMatchObject({ columns: [[text('a')], [text('b'), text('c')]] })
  expect(keys(moveBeside(all, 'a', 'd', 'before'))).toEqual(['c', 'columns-1', 'b', 'a', 'd'])
  const two = [...all, { ...columns, key: 'columns-2', columns: [[text('e')], []] }]
  for (const target of ['columns-1', 'a', 'e']) {
    expect(moveBeside(two, 'columns-1', target, 'after')).toEqual(two)
  }
})
