import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { aDefinition, anEmail, thanksDefinition, wait } from '../../../testing/builders.ts'
import { layoutFaults } from '../../../testing/layoutFaults.ts'
import { goLiveFindings } from '../../../core/check/goLive.ts'
import { layoutTimetable, type Item } from '../../../core/timetable/layout.ts'
import { geometryOf, lineParts, neighbour } from './geometry.ts'

describe('in pixels', () => {
  test('nothing lies on anything, no line runs through anything, every place can be reached (property)', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        // What stands behind an end is drawn so that it can be mended, wherever there is room.
        fc.pre(!goLiveFindings(definition).some(({ code }) => code === 'unreached'))
        expect(layoutFaults(definition)).toEqual([])
      }),
      { numRuns: 500 },
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
  test('a branching step has a part that all its paths share, and one of each', () => {
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
