import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { layoutTimetable, type Item } from '../../../core/timetable/layout.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { removeStep } from '../../../core/workflow/edit.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { aDefinition, anEmail, wait } from '../../../testing/builders.ts'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { geometryOf, type Box } from './geometry.ts'
import { atOnce, nearOf, type InSight, type Looked } from './inSight.ts'
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

/** The ids of what is drawn. */
const drawn = ({ item }: InSight, { layout }: Looked) =>
  layout.items.filter(item).map(({ id }) => id)

/** A workflow, one of its steps gone, and where one looked before and after. */
const edits = fc.tuple(definitions, fc.nat(), views, views).map(([definition, nth, from, to]) => {
  const keys = allSteps(definition.steps).map(({ key }) => key)
  const without = removeStep(definition, keys[nth % Math.max(1, keys.length)] ?? '')
  return { before: look(definition, from), now: look(without, to) }
})

describe('what is drawn at once', () => {
  test('is all that can be seen, and nothing that is neither near nor was (property)', () => {
    fc.assert(
      fc.property(edits, ({ before, now }) => {
        const near = nearOf(now)
        const first = atOnce(before, now) ?? near
        const { boxOf } = now.geometry
        const were = drawn(nearOf(before), before)
        const was = ({ id }: Item) => were.includes(id)
        const items = now.layout.items.map((one) => ({
          isSeen: isSeen(boxOf(one), now.view),
          isDrawn: first.item(one),
          isWanted: near.item(one) || was(one),
        }))
        const lines = now.layout.links.map(({ from, to }) => ({
          isSeen: isSeen(around(boxOf(from), boxOf(to)), now.view),
          isDrawn: first.line(from, to),
          isWanted: near.line(from, to) || (was(from) && was(to)),
        }))
        const all = [...items, ...lines]
        expect(all.filter((one) => one.isSeen && !one.isDrawn)).toEqual([])
        expect(all.filter((one) => one.isDrawn && !one.isWanted)).toEqual([])
      }),
      { numRuns: 300 },
    )
  })

  const messages = Array.from({ length: 12 }, (_, index) => anEmail(`m${index}`))
  const long = aDefinition({ steps: [wait('w', 'P1D'), ...messages] })
  const view = viewOf(0, 0, 800, 300)
  test('leaves out what comes near from beyond, and keeps what goes', () => {
    const shorter = removeStep(long, 'm1')
    const [before, now] = [look(long, view), look(shorter, view)]
    const start = ['start', 'wait:w', 'email:m0']
    expect(drawn(nearOf(before), before)).toEqual([...start, 'email:m1', 'email:m2', 'email:m3'])
    expect(drawn(nearOf(now), now)).toEqual([...start, 'email:m2', 'email:m3', 'email:m4'])
    expect(drawn(atOnce(before, now) as InSight, now)).toEqual([...start, 'email:m2', 'email:m3'])
    // And back.
    expect(drawn(atOnce(now, before) as InSight, before)).toEqual([
      ...start,
      'email:m1',
      'email:m2',
      'email:m3',
      'email:m4',
    ])
  })

  test('is all there is where nothing comes or goes', () => {
    const renamed = { ...long, name: 'Another' }
    expect(atOnce(look(long, view), look(renamed, view))).toBeNull()
  })
})
