import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { layoutTimetable } from '../../../core/timetable/layout.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { removeStep } from '../../../core/workflow/edit.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { aDefinition, anEmail, wait } from '../../../testing/builders.ts'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { geometryOf, type Box } from './geometry.ts'
import { atOnce, nearOf, type Looked } from './inSight.ts'
import type { View } from './useView.ts'

const MARGIN = 160

/** A window of some size somewhere on a timetable, with what is near it. */
const views = fc
  .record({
    x: fc.integer({ min: 0, max: 3000 }),
    y: fc.integer({ min: 0, max: 1500 }),
    width: fc.integer({ min: 50, max: 1500 }),
    height: fc.integer({ min: 50, max: 900 }),
  })
  .map(({ x, y, width, height }) => viewOf(x, y, width, height))

const viewOf = (x: number, y: number, width: number, height: number): View => ({
  left: x - MARGIN,
  top: y - MARGIN,
  right: x + width + MARGIN,
  bottom: y + height + MARGIN,
  margin: MARGIN,
})

function look(definition: Definition, view: View): Looked {
  const layout = layoutTimetable(definition)
  return { layout, geometry: geometryOf(layout), view }
}

function isSeen({ left, top, width, height }: Box, { margin, ...view }: View): boolean {
  return (
    left < view.right - margin &&
    left + width > view.left + margin &&
    top < view.bottom - margin &&
    top + height > view.top + margin
  )
}

const around = (a: Box, b: Box): Box => {
  const [left, top] = [Math.min(a.left, b.left), Math.min(a.top, b.top)]
  const right = Math.max(a.left + a.width, b.left + b.width)
  const bottom = Math.max(a.top + a.height, b.top + b.height)
  return { left, top, width: right - left, height: bottom - top }
}

/** A workflow, one of its steps gone, and where one looked before and after. */
const edits = fc.tuple(definitions, fc.nat(), views, views).map(([definition, nth, from, to]) => {
  const keys = allSteps(definition.steps).map(({ key }) => key)
  const without = removeStep(definition, keys[nth % Math.max(1, keys.length)] ?? '')
  return { before: look(definition, from), now: look(without, to) }
})

describe('what is drawn at once', () => {
  test('is all that can be seen, and nothing that is not near (property)', () => {
    fc.assert(
      fc.property(edits, ({ before, now }) => {
        const near = nearOf(now)
        const first = atOnce(before, now) ?? near
        const { boxOf } = now.geometry
        const items = now.layout.items.map((one) => ({
          isSeen: isSeen(boxOf(one), now.view),
          isDrawn: first.item(one),
          isNear: near.item(one),
        }))
        const lines = now.layout.links.map(({ from, to }) => ({
          isSeen: isSeen(around(boxOf(from), boxOf(to)), now.view),
          isDrawn: first.line(from, to),
          isNear: near.line(from, to),
        }))
        const all = [...items, ...lines]
        expect(all.filter((one) => one.isSeen && !one.isDrawn)).toEqual([])
        expect(all.filter((one) => one.isDrawn && !one.isNear)).toEqual([])
      }),
      { numRuns: 300 },
    )
  })

  const messages = Array.from({ length: 12 }, (_, index) => anEmail(`m${index}`))
  const long = aDefinition({ steps: [wait('w', 'P1D'), ...messages] })
  const view = viewOf(0, 0, 900, 300)
  const drawn = ({ item }: ReturnType<typeof nearOf>, { layout }: Looked) =>
    layout.items.filter(item).map(({ key }) => key)

  test('leaves out what comes near from beyond', () => {
    const before = look(long, view)
    const now = look(removeStep(long, 'm1'), view)
    expect(drawn(nearOf(before), before)).toEqual([null, 'w', 'm0', 'm1', 'm2', 'm3'])
    expect(drawn(nearOf(now), now)).toEqual([null, 'w', 'm0', 'm2', 'm3', 'm4'])
    expect(drawn(atOnce(before, now) as ReturnType<typeof nearOf>, now)).toEqual([null, 'w', 'm0', 'm2', 'm3']) // prettier-ignore
  })

  test('is all there is where nothing comes near', () => {
    const before = look(removeStep(long, 'm1'), view)
    expect(atOnce(before, look(long, view))).toBeNull()
    expect(atOnce(before, before)).toBeNull()
  })
})
