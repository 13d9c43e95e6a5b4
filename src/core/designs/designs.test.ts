import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { allBlocks, blocksSchema, type Block, type LeafBlock } from '../blocks/blocks.ts'
import { templatesIn } from '../blocks/blockTexts.ts'
import { findMergeField, templateParts } from '../messages/mergeFields.ts'
import { applyDesign } from './applyDesign.ts'
import { blockDifferences } from './differences.ts'
import { DESIGNS } from './index.ts'
import { takeOver } from './takeOver.ts'

const SHOP = { name: 'Combwright', site: 'https://combwright.example' }

describe.each(DESIGNS.map((design) => [design.key, design] as const))('%s', (_key, design) => {
  const { blocks, subject, previewText } = design.make(SHOP)

  test('is a valid message, with a subject and a preview text', () => {
    expect(blocksSchema.parse(blocks)).toEqual(blocks)
    expect(subject).not.toBe('')
    expect(previewText).not.toBe('')
    expect(new Set(allBlocks(blocks).map(({ key }) => key)).size).toBe(allBlocks(blocks).length)
  })

  test('its merge fields are known, and have a fallback or something to be about', () => {
    const fields = [subject, previewText, ...allBlocks(blocks).flatMap(templatesIn)]
      .flatMap(templateParts)
      .filter((part) => typeof part !== 'string')
    for (const { key, fallback } of fields) {
      expect(findMergeField(key), key).toBeDefined()
      const [owner] = key.split('.')
      expect(fallback !== null || design.about.some((kind) => kind === owner), key).toBe(true)
    }
  })
})

const says = (key: string, text: string, style?: Block['style']): LeafBlock => ({
  key,
  kind: 'heading',
  level: 1,
  text,
  ...(style && { style }),
})

/** Small messages whose blocks have keys in common now and then. */
const someBlocks: fc.Arbitrary<Block[]> = fc.uniqueArray(
  fc.record({
    key: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
    text: fc.constantFrom('one', 'two', 'three'),
    band: fc.constantFrom(undefined, 'tint' as const, 'ink' as const),
  }),
  { selector: ({ key }) => key, maxLength: 6 },
).map((all) => all.map(({ key, text, band }) => says(key, text, band && { band }))) // prettier-ignore

describe('taking over what has changed in a design', () => {
  test('who has changed nothing gets the design; a design that has not changed changes nothing (property)', () => {
    fc.assert(
      fc.property(someBlocks, someBlocks, (before, after) => {
        expect(takeOver(before, before, after)).toEqual(after)
        expect(takeOver(after, before, before)).toEqual(expect.arrayContaining(after))
        expect(takeOver(after, before, before)).toHaveLength(after.length)
      }),
    )
  })

  test('nothing that was written in the message is lost (property)', () => {
    fc.assert(
      fc.property(someBlocks, someBlocks, someBlocks, (mine, before, after) => {
        const taken = takeOver(mine, before, after)
        const own = mine.filter((block) => {
          const old = before.find(({ key }) => key === block.key)
          return !old || templatesIn(old).join() !== templatesIn(block).join()
        })
        for (const block of own) {
          const there = taken.find(({ key }) => key === block.key)
          expect(there && templatesIn(there)).toEqual(templatesIn(block))
        }
        expect(new Set(taken.map(({ key }) => key)).size).toBe(taken.length)
      }),
    )
  })

  test('words stay, looks follow; what was taken out stays out; own blocks keep their place', () => {
    const before = [says('title', 'Hello'), says('sub', 'There'), says('foot', 'Bye')]
    const mine = [says('title', 'Hello, bees'), says('own', 'Mine'), says('foot', 'Bye')]
    const after = [says('title', 'Good day', { band: 'accent' }), says('sub', 'There'), says('new', 'New'), says('foot', 'See you')] // prettier-ignore
    expect(takeOver(mine, before, after)).toEqual([
      says('title', 'Hello, bees', { band: 'accent' }),
      says('own', 'Mine'),
      says('new', 'New'),
      says('foot', 'See you'),
    ])
  })

  test('blocks in columns are told apart, too', () => {
    const of = (left: LeafBlock[], right: LeafBlock[]): Block => ({ key: 'cols', kind: 'columns', columns: [left, right] }) // prettier-ignore
    const before = [of([says('a', 'A')], [says('b', 'B')])]
    const mine = [of([says('a', 'Mine')], [says('b', 'B')])]
    const after = [{ ...of([says('a', 'A2', { ink: 'accent' })], [says('b', 'B2')]), widths: [1, 2] } as Block] // prettier-ignore
    expect(takeOver(mine, before, after)).toEqual([
      { ...of([says('a', 'Mine', { ink: 'accent' })], [says('b', 'B2')]), widths: [1, 2] },
    ])
  })
})

describe('a message in another design', () => {
  test('keeps its words where they fit, and what finds no place follows', () => {
    const message: Block[] = [
      says('h', 'My heading', { band: 'ink' }),
      { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'My words' }] }] },
      { key: 'b', kind: 'button', label: 'Mine', href: 'https://combwright.example' },
    ]
    const design: Block[] = [
      { key: 'x', kind: 'divider' },
      { ...says('h', 'Sample'), style: { align: 'center' } },
      says('h2', 'Sample two'),
    ]
    expect(applyDesign(message, design)).toEqual([
      { key: 'x', kind: 'divider' },
      says('h', 'My heading', { align: 'center' }),
      says('h2', 'Sample two'),
      message[1],
      message[2],
    ])
  })

  test('loses no words whatever the two are, and keys stay single', () => {
    const all = DESIGNS.map(({ make }) => make(SHOP).blocks)
    for (const message of all) {
      for (const design of all) {
        const made = applyDesign(message, design)
        const words = (blocks: readonly Block[]) => allBlocks(blocks).filter(({ kind }) => kind === 'text' || kind === 'button').flatMap(templatesIn) // prettier-ignore
        expect(words(made)).toEqual(expect.arrayContaining(words(message)))
        const keys = allBlocks(made).map(({ key }) => key)
        expect(new Set(keys).size).toBe(keys.length)
      }
    }
  })
})

test('differences are told in sentences', () => {
  const before = [says('a', 'Hello'), says('b', 'There'), says('c', 'Bye')]
  const after = [says('c', 'Bye', { band: 'tint' }), says('a', 'Good day'), says('n', 'Fresh')]
  expect(blockDifferences(before, after)).toEqual([
    'The heading “Bye” looks different.',
    'The heading “Hello” reads “Good day”.',
    'The heading “Fresh” is new.',
    'The heading “There” goes.',
    'Blocks stand in another order.',
  ])
  expect(blockDifferences(before, before)).toEqual([])
})
