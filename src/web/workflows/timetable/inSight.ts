import type { Item, Timetable as Layout } from '../../../core/timetable/layout.ts'
import { isBetweenWithin, isWithin, partWithin, type Geometry } from './geometry.ts'
import type { View } from './useView.ts'

/** A timetable, and the part of it that is looked at. */
export interface Looked {
  layout: Layout
  geometry: Geometry
  view: View
}

/** Tells what is drawn of a timetable. */
export interface InSight {
  item: (item: Item) => boolean
  line: (from: Item, to: Item) => boolean
}

/** What can be seen, and what is near enough to be scrolled to. */
export function nearOf({ geometry, view }: Looked): InSight {
  const part = partWithin(geometry, view)
  return {
    item: (item) => isWithin(item, part),
    line: (from, to) => isBetweenWithin(from, to, part),
  }
}

/**
 * What is drawn at once when `before` has become `now`: what can be seen, and what was there already.
 * What comes near and what goes takes longer, and nobody sees it. Null when nothing does.
 */
export function atOnce(before: Looked, now: Looked): InSight | null {
  const { view } = now
  const inner = partWithin(now.geometry, {
    left: view.left + view.margin,
    top: view.top + view.margin,
    right: view.right - view.margin,
    bottom: view.bottom - view.margin,
  })
  const near = nearOf(now)
  const there = new Set(before.layout.items.filter(nearOf(before).item).map(({ id }) => id))
  const item = (one: Item) => isWithin(one, inner) || there.has(one.id)
  if (now.layout.items.every((one) => near.item(one) === item(one))) return null
  return {
    item,
    line: (from, to) =>
      isBetweenWithin(from, to, inner) || (there.has(from.id) && there.has(to.id)),
  }
}
