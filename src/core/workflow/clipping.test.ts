import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, thanksDefinition, wait } from '../../testing/builders.ts'
import { definitions } from '../../testing/model/arbitraries.ts'
import {
  clippingText,
  clipPath,
  clipStep,
  paste,
  readClipping,
  clippingWithOwnLotteries,
} from './clipping.ts'
import { definitionSchema, type Definition } from './definition.ts'
import type { Step } from './steps.ts'
import { moveStep, placeOf, removeStep } from './edit.ts'
import { allSteps, stepKeys } from './lists.ts'

const keysOf = (definition: ReturnType<typeof aDefinition>) => stepKeys(definition.steps)

let lotteries = 0
const newLottery = (): string => `own-${(lotteries += 1)}`

describe('moving a step', () => {
  const definition = aDefinition({ steps: [anEmail('a'), wait('w', 'P1D'), anEmail('b')] })
  test('forward and back along its path', () => {
    expect(keysOf(moveStep(definition, 'a', { list: null, index: 3 }))).toEqual(['w', 'b', 'a'])
    expect(keysOf(moveStep(definition, 'b', { list: null, index: 0 }))).toEqual(['b', 'a', 'w'])
  })
  test('to where it stands, or into itself, changes nothing', () => {
    expect(moveStep(definition, 'w', { list: null, index: 1 })).toBe(definition)
    expect(moveStep(definition, 'w', { list: null, index: 2 })).toBe(definition)
    const thanks = thanksDefinition()
    const inside = { list: { branching: 'split', branch: 'first' }, index: 0 }
    expect(moveStep(thanks, 'split', inside)).toBe(thanks)
  })
  test('to another path', () => {
    const moved = moveStep(thanksDefinition(), 'w1', {
      list: { branching: 'split', branch: null },
      index: 0,
    })
    expect(placeOf(moved, 'w1')).toEqual({ list: { branching: 'split', branch: null }, index: 0 })
    expect(placeOf(moved, 'thanks1')).toEqual({
      list: { branching: 'split', branch: 'first' },
      index: 0,
    })
  })
  test('wherever it goes, nothing is lost or doubled, and taking it out gives the same (property)', () => {
    fc.assert(
      fc.property(definitions, fc.nat(), fc.nat(), (one, which, where) => {
        const steps = allSteps(one.steps)
        const moving = steps[which % Math.max(steps.length, 1)]
        const goal = steps[where % Math.max(steps.length, 1)]
        const place = goal && placeOf(one, goal.key)
        if (!moving || !place) return
        const moved = moveStep(one, moving.key, place)
        expect(definitionSchema.safeParse(moved).success).toBe(true)
        expect(keysOf(moved).toSorted()).toEqual(keysOf(one).toSorted())
        expect(removeStep(moved, moving.key)).toEqual(removeStep(one, moving.key))
      }),
    )
  })
})

describe('copying', () => {
  test('through a clipboard’s text and back', () => {
    const clipping = clipStep(thanksDefinition(), 'split')
    expect(clipping).not.toBeNull()
    if (clipping) expect(readClipping(clippingText(clipping))).toEqual(clipping)
    const path = clipPath(thanksDefinition(), 'split', 'second')
    if (path) expect(readClipping(clippingText(path))).toEqual(path)
  })
  test('other texts are none', () => {
    for (const text of ['', 'hello', '{"format":"yomble.clipping"}', '[]', '{"steps":[]}']) {
      expect(readClipping(text)).toBeNull()
    }
  })
  test('keys that are taken become others, also where a condition names them', () => {
    const definition = aDefinition({
      steps: [
        anEmail('a'),
        anEmail('b', {
          onlyIf: {
            kind: 'messages',
            did: 'opened',
            workflow: 'this',
            step: 'a',
            window: { kind: 'ever' },
          },
        }),
      ],
    })
    const pasted = paste(
      definition,
      { list: null, index: 2 },
      { kind: 'steps', steps: definition.steps },
      newLottery,
    )
    expect(keysOf(pasted.definition)).toEqual(['a', 'b', 'a-2', 'b-2'])
    expect(pasted.definition.steps[3]).toMatchObject({ onlyIf: { step: 'a-2' } })
    expect(pasted.key).toBe('a-2')
  })
  test('a path becomes another path of the split it is put in, or a split of its own', () => {
    const thanks = thanksDefinition()
    const path = clipPath(thanks, 'split', 'first')
    if (!path) throw new Error('There is a path')
    const inside = paste(
      thanks,
      { list: { branching: 'split', branch: 'second' }, index: 0 },
      path,
      newLottery,
    )
    expect(inside).toMatchObject({ branching: 'split', key: 'first-2' })
    expect(inside.definition.steps[0]).toMatchObject({
      branches: [{ key: 'first' }, { key: 'second' }, { key: 'first-2', name: 'First order' }],
    })
    const alone = paste(aDefinition(), { list: null, index: 0 }, path, newLottery)
    expect(alone.definition.steps[0]).toMatchObject({
      kind: 'split',
      branches: [{ name: 'First order' }],
    })
    expect(definitionSchema.safeParse(alone.definition).success).toBe(true)
  })
  test('a copied experiment draws by itself; one that was cut goes on as it was', () => {
    const arm = (key: string) => ({ key, name: key, weight: 1, steps: [] })
    const experiment = (key: string, lottery: string): Step => ({
      key,
      kind: 'experiment',
      name: 'X',
      lottery,
      arms: [arm(`${key}-1`), arm(`${key}-2`)],
    })
    const from = aDefinition({ steps: [experiment('x', 'one'), experiment('y', 'one'), experiment('z', 'two')] }) // prettier-ignore
    const lotteriesOf = (definition: Definition) => definition.steps.map((step) => (step.kind === 'experiment' ? step.lottery : '')) // prettier-ignore
    const end = { list: null, index: 3 }
    const copied = lotteriesOf(paste(from, end, { kind: 'steps', steps: from.steps }, newLottery).definition) // prettier-ignore
    expect(copied.slice(0, 3)).toEqual(['one', 'one', 'two'])
    // Those that shared a lottery still do.
    expect(copied[3]).toBe(copied[4])
    expect(new Set(copied).size).toBe(4)
    const moved = paste(aDefinition({ steps: [] }), { list: null, index: 0 }, { kind: 'steps', steps: from.steps }, newLottery) // prettier-ignore
    expect(lotteriesOf(moved.definition)).toEqual(['one', 'one', 'two'])
    const elsewhere = clippingWithOwnLotteries({ kind: 'steps', steps: from.steps }, newLottery)
    expect(elsewhere.kind === 'steps' && lotteriesOf(aDefinition({ steps: elsewhere.steps })).includes('one')).toBe(false) // prettier-ignore
  })
  test('a path that a split has no room for becomes a split of its own', () => {
    const place = { list: { branching: 'split', branch: 'first' }, index: 0 }
    let definition = thanksDefinition()
    for (let paths = 2; paths < 30; paths += 1) {
      const path = clipPath(definition, 'split', 'second')
      if (!path) throw new Error('There is a path')
      definition = paste(definition, place, path, newLottery).definition
    }
    expect(definition.steps[0]).toMatchObject({ branches: { length: 24 } })
    expect(definitionSchema.safeParse(definition).error).toBeUndefined()
  })
  test('whatever is pasted wherever, the document stays valid and keys stay unique (property)', () => {
    fc.assert(
      fc.property(definitions, definitions, fc.nat(), fc.nat(), (from, to, which, where) => {
        const sources = allSteps(from.steps)
        const goals = allSteps(to.steps)
        const source = sources[which % Math.max(sources.length, 1)]
        const goal = goals[where % Math.max(goals.length, 1)]
        const clipping = source && clipStep(from, source.key)
        const place = goal && placeOf(to, goal.key)
        if (!clipping || !place) return
        const { definition } = paste(to, place, clipping, newLottery)
        expect(definitionSchema.safeParse(definition).success).toBe(true)
        const keys = keysOf(definition)
        expect(new Set(keys).size).toBe(keys.length)
      }),
    )
  })
})
