import type { Item, ItemKind, Link, Timetable } from '../../../core/timetable/layout.ts'

export const HEAD_WIDTH = 156
export const HEAD_HEIGHT = 46
export const ROW_HEIGHT = 104
const GAP = 34
const EDGE = 12

/** A stop: something that people read. */
const STOP = { width: 168, height: 80 }
/** Something that is done, and read by nobody. */
const ACTION = { width: 120, height: 44 }
const FORK = { width: 32, height: 32 }

const SIZES: Readonly<Record<ItemKind, { width: number; height: number }>> = {
  start: { width: 18, height: 18 },
  wait: { width: 92, height: 28 },
  until: { width: 72, height: 28 },
  email: STOP,
  sms: STOP,
  note: STOP,
  coupon: ACTION,
  tag: ACTION,
  list: ACTION,
  property: ACTION,
  hook: ACTION,
  split: FORK,
  experiment: FORK,
  waitFor: FORK,
  branch: { width: 112, height: 52 },
  join: { width: 14, height: 14 },
  end: { width: 16, height: 16 },
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
  const slotWidths = widthsOf(timetable)
  let left = HEAD_WIDTH + EDGE
  const slotLefts = slotWidths.map((width) => {
    left += width
    return left - width
  })
  const columns = timetable.moments.map(({ label, firstSlot, slots }) => ({
    label,
    left: slotLefts[firstSlot] ?? HEAD_WIDTH,
    width: slotWidths.slice(firstSlot, firstSlot + slots).reduce((sum, width) => sum + width, 0),
  }))
  const inner = slotWidths.reduce((sum, width) => sum + width, 0)
  const boxes = new Map(timetable.items.map((item) => [item.id, boxIn(item, slotLefts)]))
  return {
    width: HEAD_WIDTH + EDGE + inner,
    height: HEAD_HEIGHT + timetable.rows.length * ROW_HEIGHT,
    columns,
    boxOf: (item) => boxes.get(item.id) ?? boxIn(item, slotLefts),
  }
}

function boxIn(item: Item, slotLefts: readonly number[]): Box {
  const middle = HEAD_HEIGHT + ((item.rowFrom + item.rowTo) / 2) * ROW_HEIGHT
  const { width, height } = SIZES[item.kind]
  const left = (slotLefts[item.slot] ?? 0) + GAP / 2
  return { left, top: middle - height / 2, width, height }
}

const LABEL_CHARACTER = 7.5
const LABEL_PADDING = 26

/** The width of every slot. A column is at least as wide as its heading. */
function widthsOf(timetable: Timetable): number[] {
  const widths = timetable.slots.map(
    (kinds) => Math.max(...kinds.map((kind) => SIZES[kind].width)) + GAP,
  )
  for (const { label, firstSlot, slots } of timetable.moments) {
    const column = widths.slice(firstSlot, firstSlot + slots).reduce((sum, width) => sum + width, 0)
    const missing = label.length * LABEL_CHARACTER + LABEL_PADDING - column
    const last = firstSlot + slots - 1
    if (missing > 0) widths[last] = (widths[last] ?? 0) + missing
  }
  return widths
}

/** The two parts of a line: the one that belongs to a path, and the one that paths share. */
export interface LineParts {
  own: string
  shared: string | null
}

/** A line between two boxes: level, then up or down at a fork or rejoin, then level. */
export function lineParts(from: Box, to: Box): LineParts {
  const startX = from.left + from.width
  const startY = from.top + from.height / 2
  const endX = to.left
  const endY = to.top + to.height / 2
  if (startY === endY) return { own: `M${startX} ${startY}H${endX}`, shared: null }
  const turn = turnX(from, to)
  const before = `M${startX} ${startY}H${turn}`
  const after = `M${turn} ${endY}H${endX}`
  return isFork(from)
    ? { own: after, shared: `${before}V${endY}` }
    : { own: before, shared: `M${turn} ${startY}V${endY}H${endX}` }
}

const isFork = (box: Box): boolean => box.height === FORK.height && box.width === FORK.width

/** Forks turn right after they start, rejoins just before they end. */
function turnX(from: Box, to: Box): number {
  return isFork(from) ? from.left + from.width + GAP / 4 : to.left - GAP / 4
}

/** Where the "+" of a line goes: on the level part in front of the second box. */
export function insertPoint(from: Box, to: Box): { x: number; y: number } {
  const y = to.top + to.height / 2
  const startY = from.top + from.height / 2
  if (y === startY || isFork(from)) return { x: to.left - GAP / 2 + 2, y }
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
