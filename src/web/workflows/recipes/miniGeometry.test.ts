import fc from 'fast-check'
import { expect, test } from 'vitest'
import { layoutTimetable } from '../../../core/timetable/layout.ts'
import type { Step } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail, ordersEver, wait } from '../../../testing/builders.ts'
import { definitions } from '../../../testing/model/arbitraries.ts'
import { miniGeometry } from './miniGeometry.ts'

/** What a letter of a moment takes at most, in pixels: Plex Mono at 9.5 px is 0.6 of it wide. */
const LETTER = 0.6 * 9.5

test('whatever the workflow: no moment’s words reach the next, and all stands within (property)', () => {
  fc.assert(
    fc.property(definitions, (definition) => {
      const layout = layoutTimetable(definition)
      const { moments, width, height, centreOf } = miniGeometry(layout)
      for (const [index, { label, left }] of moments.entries()) {
        const end = moments[index + 1]?.left ?? width
        expect(left + 4 + label.length * LETTER).toBeLessThanOrEqual(end)
      }
      for (const item of layout.items) {
        const { x, y } = centreOf(item)
        expect(x > 0 && x < width && y > 0 && y < height).toBe(true)
      }
    }),
  )
})

test('paths are called by their names, long ones cut', () => {
  const split: Step = {
    key: 's',
    kind: 'split',
    branches: [{ key: 'b', name: 'Hives & frames with wear', when: ordersEver(2), steps: [] }],
    otherwise: [wait('w', 'P7D'), anEmail('m')],
  }
  const layout = layoutTimetable(aDefinition({ steps: [split] }))
  const { moments, nameOf } = miniGeometry(layout)
  expect(moments.map(({ label }) => label)).toEqual(['at once', '+ 7 d'])
  const paths = layout.items.filter(({ kind }) => kind === 'branch')
  expect(paths.map((path) => nameOf(path).text)).toEqual(['Hives & frame…', 'Everyone else'])
  for (const path of paths) expect(nameOf(path).width).toBeGreaterThan(60)
})
