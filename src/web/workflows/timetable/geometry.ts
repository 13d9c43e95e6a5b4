import type { Item, ItemKind, Link, Timetable } from '../../../core/timetable/layout.ts'

export const HEAD_WIDTH = 176
export const HEAD_HEIGHT = 46
export const ROW_HEIGHT = 104
const GAP = 40
const EDGE = 12

const WIDTHS: Readonly<Record<ItemKind, number>> = {
  start: 18,
  wait: 78,
  email: 176,
  split: 34,
  branch: 132,
  join: 14,
  end: 26,
}
const HEIGHTS: Readonly<Record<ItemKind, number>> = {
  start: 18,
  wait: 28,
  email: 82,
  split: 34,
  branch: 52,
  join: 14,
  end: 26,
}

export interface Box {
  left: number
  top: number
  width: number
  height: number
}

export interface Geometry {
  width: number
  height: number
  boxOf: (item: Item) => Box
  columns: { label: string; left: number; width: number }[]
}

/** Turns the slots and rows of a timetable into pixels. */
export function geometryOf(timetable: Timetable): Geometry {
  const slotWidths = timetable.slots.map(
    (kinds) => Math.max(...kinds.map((kind) => WIDTHS[kind])) + GAP,
  )
  const slotLefts = slotWidths.map((_, slot) =>
    slotWidths.slice(0, slot).reduce((sum, width) => sum + width, HEAD_WIDTH + EDGE),
  )
  const columns = timetable.moments.map(({ label, firstSlot, slots }) => ({
    label,
    left: slotLefts[firstSlot] ?? HEAD_WIDTH,
    width: slotWidths.slice(firstSlot, firstSlot + slots).reduce((sum, width) => sum + width, 0),
  }))
  const inner = slotWidths.reduce((sum, width) => sum + width, 0)
  return {
    width: HEAD_WIDTH + EDGE + inner,
    height: HEAD_HEIGHT + timetable.rows.length * ROW_HEIGHT,
    columns,
    boxOf: (item) => {
      const middle = HEAD_HEIGHT + ((item.rowFrom + item.rowTo) / 2) * ROW_HEIGHT
      const height = HEIGHTS[item.kind]
      const left = (slotLefts[item.slot] ?? 0) + GAP / 2
      return { left, top: middle - height / 2, width: WIDTHS[item.kind], height }
    },
  }
}

/** A line between two boxes: level, then up or down in the last gap before the second, then level. */
export function linePath(from: Box, to: Box): string {
  const startX = from.left + from.width
  const startY = from.top + from.height / 2
  const endX = to.left
  const endY = to.top + to.height / 2
  if (startY === endY) return `M${startX} ${startY}H${endX}`
  const turn = turnX(from, to)
  return `M${startX} ${startY}H${turn}V${endY}H${endX}`
}

/** Forks turn right after they start, rejoins just before they end. */
function turnX(from: Box, to: Box): number {
  const forking = from.height === HEIGHTS.split
  return forking ? from.left + from.width + GAP / 4 : to.left - GAP / 4
}

/** Where the "+" of a line goes: on the level part in front of the second box. */
export function insertPoint(from: Box, to: Box): { x: number; y: number } {
  const y = to.top + to.height / 2
  const startY = from.top + from.height / 2
  if (y === startY || from.height === HEIGHTS.split) return { x: to.left - GAP / 2 + 2, y }
  return { x: from.left + from.width + GAP / 2, y: startY }
}

/** The item to go to from another with an arrow key, or null. */
export function neighbour(timetable: Timetable, fromId: string, key: string): Item | null {
  const item = timetable.items.find(({ id }) => id === fromId)
  if (!item) return null
  if (key === 'ArrowRight') return across(timetable, timetable.links, item, 'from', 'to')
  if (key === 'ArrowLeft') return across(timetable, timetable.links, item, 'to', 'from')
  const down = key === 'ArrowDown'
  const candidates = timetable.items.filter(
    (one) => one.kind !== 'join' && (down ? one.rowFrom >= item.rowTo : one.rowTo <= item.rowFrom),
  )
  const distance = (one: Item) =>
    Math.abs(one.slot - item.slot) * 3 + Math.abs(one.rowFrom - item.rowFrom)
  return candidates.toSorted((a, b) => distance(a) - distance(b))[0] ?? null
}

/** The first item along the lines that can be selected. */
function across(
  timetable: Timetable,
  links: readonly Link[],
  item: Item,
  here: 'from' | 'to',
  there: 'from' | 'to',
): Item | null {
  const link = links.find((one) => one[here] === item.id)
  const next = link && timetable.items.find(({ id }) => id === link[there])
  if (!next) return null
  return next.kind === 'join' ? across(timetable, links, next, here, there) : next
}
