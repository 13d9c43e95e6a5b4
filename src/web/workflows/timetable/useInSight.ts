import { useDeferredValue, useMemo } from 'react'
import type { Timetable as Layout } from '../../../core/timetable/layout.ts'
import type { Geometry } from './geometry.ts'
import { atOnce, nearOf, type InSight } from './inSight.ts'
import type { View } from './useView.ts'

/**
 * What is drawn of a timetable: what can be seen answers an edit or a scroll at once, and what comes
 * near it beyond the edges follows a frame later.
 */
export function useInSight(layout: Layout, geometry: Geometry, view: View): InSight {
  const now = useMemo(() => ({ layout, geometry, view }), [layout, geometry, view])
  const before = useDeferredValue(now)
  const near = useMemo(() => nearOf(now), [now])
  const first = useMemo(() => (before === now ? null : atOnce(before, now)), [before, now])
  return first ?? near
}
