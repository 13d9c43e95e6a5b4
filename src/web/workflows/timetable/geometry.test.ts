import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { aDefinition, anEmail, thanksDefinition, wait } from '../../../testing/builders.ts'
import { layoutTimetable, type Item } from '../../../core/timetable/layout.ts'
import {
  geometryOf,
  HEAD_HEIGHT,
  HEAD_WIDTH,
  insertPoint,
  lineParts,
  neighbour,
  type Box,
} from './geometry.ts'

const apart = (a: Box, b: Box): boolean =>
  a.left + a.width <= b.left ||
  b.left + b.width <= a.left ||
  a.top + a.height <= b.top ||
  b.top + b.height <= a.top

describe('in pixels', () => {
  test('nothing lies on anything else, and all is right of the row heads and below the column heads (property)', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        const layout = layoutTimetable(definition)
        const geometry = geometryOf(layout)
        const boxes = layout.items.map((item) => geometry.boxOf(item))
        const outside = boxes.filter(
          ({ left, top, width, height }) =>
            left < HEAD_WIDTH ||
            top < HEAD_HEIGHT ||
            left + width > geometry.width ||
            top + height > geometry.height,
        )
        expect(outside).toEqual([])
        const touching = boxes.flatMap((a, index) =>
          boxes.slice(index + 1).filter((b) => !apart(a, b)),
        )
        expect(touching).toEqual([])
      }),
      { numRuns: 200 },
    )
  })

  test('no two places to insert at are so close that one hides the other (property)', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        const layout = layoutTimetable(definition)
        const geometry = geometryOf(layout)
        const byId = new Map(layout.items.map((item) => [item.id, geometry.boxOf(item)]))
        const points = layout.links.flatMap(({ from, to, place }) => {
          const [start, end] = [byId.get(from), byId.get(to)]
          return place && start && end ? [insertPoint(start, end)] : []
        })
        const tooClose = points.flatMap((a, index) =>
          points.slice(index + 1).filter((b) => Math.hypot(a.x - b.x, a.y - b.y) < 18),
        )
        expect(tooClose).toEqual([])
      }),
      { numRuns: 200 },
    )
  })

  test('columns are as wide as their headings', () => {
    const { columns } = geometryOf(
      layoutTimetable(aDefinition({ steps: [wait('w', 'P1M3DT20M'), anEmail('a')] })),
    )
    for (const { label, width } of columns) expect(width).toBeGreaterThan(label.length * 7)
  })
})

describe('lines', () => {
  const layout = layoutTimetable(thanksDefinition())
  const geometry = geometryOf(layout)
  const box = (id: string) => geometry.boxOf(layout.items.find((item) => item.id === id) as Item)
  test('a fork has a part that all its paths share, and one of each', () => {
    const { own, shared } = lineParts(box('split:split'), box('branch:split:first'))
    expect(shared).toMatch(/^M[\d.]+ [\d.]+H[\d.]+V[\d.]+$/)
    expect(own).toMatch(/^M[\d.]+ [\d.]+H[\d.]+$/)
  })
  test('what is level is one line', () => {
    expect(lineParts(box('branch:split:first'), box('wait:w1'))).toMatchObject({ shared: null })
  })
})

describe('arrow keys', () => {
  const layout = layoutTimetable(thanksDefinition())
  const go = (from: string, ...keys: string[]) =>
    keys.reduce((id, key) => neighbour(layout, id, key)?.id ?? id, from)
  test('walk along a path, over rejoins, and back', () => {
    expect(go('start', 'ArrowRight', 'ArrowRight')).toBe('branch:split:first')
    expect(go('branch:split:first', 'ArrowRight', 'ArrowRight')).toBe('email:thanks1')
    expect(go('email:thanks1', 'ArrowRight')).toBe('end')
    expect(go('email:thanks1', 'ArrowLeft', 'ArrowLeft')).toBe('branch:split:first')
  })
  test('go from path to path', () => {
    expect(go('email:thanks1', 'ArrowDown')).toBe('email:thanks2')
    expect(go('email:thanks2', 'ArrowUp')).toBe('email:thanks1')
    expect(neighbour(layout, 'branch:split:first', 'ArrowUp')).toBeNull()
  })
})
