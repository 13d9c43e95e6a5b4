import { useMemo, useState } from 'react'
import { layoutTimetable, type Timetable as Layout } from '../../../core/timetable/layout.ts'
import { sameLayout } from '../../../core/timetable/sameLayout.ts'
import { startWords } from '../../../core/timetable/stepOffsets.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { geometryOf, type Geometry } from './geometry.ts'

/** The layout of a workflow and its pixels: the same objects for as long as nothing moves. */
export function useLayout(definition: Definition): { layout: Layout; geometry: Geometry } {
  const [laidOut, setLaidOut] = useState(definition)
  const isSame =
    laidOut === definition ||
    (sameLayout(laidOut.steps, definition.steps) &&
      startWords(laidOut.trigger) === startWords(definition.trigger))
  // What an update of the state during rendering is for: the next render begins at once.
  if (!isSame) setLaidOut(definition)
  const current = isSame ? laidOut : definition
  return useMemo(() => {
    const layout = layoutTimetable(current)
    return { layout, geometry: geometryOf(layout) }
  }, [current])
}
