import type { Item, Link, Timetable } from '../../../core/timetable/layout.ts'
import { shapeOf, type Shape } from '../stepShapes.ts'

export const HEAD_WIDTH = 156
export const HEAD_HEIGHT = 46
export const ROW_HEIGHT = 96
const GAP = 26
const EDGE = 12

const BRANCHING = { width: 28, height: 28 }

const SIZES: Readonly<Record<Shape, { width: number; height: number }>> = {
  // With the "+" behind it far enough apart to be hit: WCAG 2.5.8.
  start: { width: 22, height: 22 },
  wait: { width: 0, height: 26 },
  date: { width: 76, height: 26 },
  stop: { width: 160, height: 76 },
  action: { width: 116, height: 44 },
  branching: BRANCHING,
  branch: { width: 0, height: 48 },
  join: { width: 14, height: 14 },
  end: { width: 16, height: 16 },
}

/** A wait and a path are as wide as what they say; a long name of a path takes two lines. */
function ownWidth({ kind, label }: Item): number {
  if (kind === 'wait') return Math.ceil(37 + label.length * 7.2)
  if (kind === 'branch') return Math.ceil(Math.min(116, Math.max(64, 22 + label.length * 6.6)))
  return SIZES[shapeOf(kind)].width
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
  /** Where each slot begins, and at the end where the last one ends. */
  slotEdges: readonly number[]
}

/** Turns the slots and rows of a timetable into pixels. */
export function geometryOf(timetable: Timetable): Geometry {
  const { slotWidths, pathWidths } = widthsOf(timetable)
  const slotEdges = [HEAD_WIDTH + EDGE]
  for (const width of slotWidths) slotEdges.push((slotEdges.at(-1) ?? 0) + width)
  const columns = timetable.moments.map(({ label, firstSlot, slots }) => ({
    label,
    left: slotEdges[firstSlot] ?? HEAD_WIDTH,
    width: (slotEdges[firstSlot + slots] ?? 0) - (slotEdges[firstSlot] ?? 0),
  }))
  return {
    width: slotEdges.at(-1) ?? 0,
    height: HEAD_HEIGHT + timetable.rows.length * ROW_HEIGHT,
    columns,
    slotEdges,
    boxOf: (item) => boxIn(item, slotEdges, pathWidths),
  }
}

/** A part of a timetable: slots and rows, each up to and with the last. */
export interface Part {
  slotFrom: number
  slotTo: number
  rowFrom: number
  rowTo: number
}

/** The slots and rows of which something lies between these edges. */
export function partWithin(
  { slotEdges }: Geometry,
  { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number },
): Part {
  const from = slotEdges.findIndex((edge) => edge >= left)
  const after = slotEdges.findIndex((edge) => edge > right)
  return {
    slotFrom: from === -1 ? slotEdges.length : Math.max(0, from - 1),
    slotTo: after === -1 ? slotEdges.length : after - 1,
    rowFrom: Math.floor((top - HEAD_HEIGHT) / ROW_HEIGHT),
    rowTo: Math.floor((bottom - HEAD_HEIGHT) / ROW_HEIGHT),
  }
}

/** True when some of an item lies in a part. */
export function isWithin({ slot, rowFrom, rowTo }: Item, part: Part): boolean {
  return (
    slot >= part.slotFrom && slot <= part.slotTo && rowFrom <= part.rowTo && rowTo > part.rowFrom
  )
}

/** True when some of the line between two items may lie in a part. */
export function isBetweenWithin(from: Item, to: Item, part: Part): boolean {
  return (
    from.slot <= part.slotTo &&
    to.slot >= part.slotFrom &&
    Math.min(from.rowFrom, to.rowFrom) <= part.rowTo &&
    Math.max(from.rowTo, to.rowTo) > part.rowFrom
  )
}

function boxIn(item: Item, slotLefts: readonly number[], pathWidths: readonly number[]): Box {
  const middle = HEAD_HEIGHT + ((item.rowFrom + item.rowTo) / 2) * ROW_HEIGHT
  const { height } = SIZES[shapeOf(item.kind)]
  const left = (slotLefts[item.slot] ?? 0) + GAP / 2
  const width = item.kind === 'branch' ? (pathWidths[item.slot] ?? 0) : ownWidth(item)
  return { left, top: middle - height / 2, width, height }
}

const LABEL_CHARACTER = 7.5
const LABEL_PADDING = 26

/**
 * The width of every slot, and of the paths in it: those that begin side by side look alike. A column is
 * at least as wide as its heading. An edit waits for this: so loops, and no lists in between.
 */
function widthsOf({ slots: all, moments }: Timetable) {
  const slotWidths: number[] = []
  const pathWidths: number[] = []
  for (const items of all) {
    let widest = 0
    let path = 0
    for (const item of items) {
      const width = ownWidth(item)
      if (width > widest) widest = width
      if (item.kind === 'branch' && width > path) path = width
    }
    slotWidths.push(widest + GAP)
    pathWidths.push(path)
  }
  for (const { label, firstSlot, slots } of moments) {
    if (label === '') continue
    const last = firstSlot + slots - 1
    let missing = label.length * LABEL_CHARACTER + LABEL_PADDING
    for (let slot = firstSlot; slot <= last; slot += 1) missing -= slotWidths[slot] ?? 0
    if (missing > 0) slotWidths[last] = (slotWidths[last] ?? 0) + missing
  }
  return { slotWidths, pathWidths }
}

/** The two parts of a line: the one that belongs to a path, and the one that paths share. */
export interface LineParts {
  own: string
  shared: string | null
}

/** A line between two boxes: level, then up or down at a branching step or rejoin, then level. */
export function lineParts(from: Box, to: Box): LineParts {
  const startX = from.left + from.width
  const startY = from.top + from.height / 2
  const endX = to.left
  const endY = to.top + to.height / 2
  if (startY === endY) return { own: `M${startX} ${startY}H${endX}`, shared: null }
  const turn = turnX(from, to)
  const before = `M${startX} ${startY}H${turn}`
  const after = `M${turn} ${endY}H${endX}`
  return isBranching(from)
    ? { own: after, shared: `${before}V${endY}` }
    : { own: before, shared: `M${turn} ${startY}V${endY}H${endX}` }
}

const isBranching = (box: Box): boolean =>
  box.height === BRANCHING.height && box.width === BRANCHING.width

/** Branching lines turn right after they start, rejoins just before they end: behind the "+" of a path. */
function turnX(from: Box, to: Box): number {
  return isBranching(from) ? from.left + from.width + GAP / 4 : to.left - 3
}

/** The size of a "+". */
export const PLUS = 18

/**
 * Beside which of two items the "+" of the line between them stands: on the level part of it, before
 * the second, or else after the first.
 */
export function plusSide(from: Item, to: Item): 'before' | 'after' {
  return from.rowFrom + from.rowTo === to.rowFrom + to.rowTo ? 'before' : 'after'
}

/** Where a "+" beside an item stands, from the corner of the item. */
export function plusAt(
  side: 'before' | 'after',
  { width, height }: Pick<Box, 'width' | 'height'>,
): { left: number; top: number } {
  const middle = side === 'before' ? -GAP / 2 : width + GAP / 2
  return { left: middle - PLUS / 2, top: (height - PLUS) / 2 }
}

/** The item to go to from another with an arrow key, or null. */
export function neighbour(timetable: Timetable, fromId: string, key: string): Item | null {
  const item = timetable.items.find(({ id }) => id === fromId)
  if (!item) return null
  if (key === 'ArrowRight') return across(timetable.links, item, 'from', 'to')
  if (key === 'ArrowLeft') return across(timetable.links, item, 'to', 'from')
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
  links: readonly Link[],
  item: Item,
  here: 'from' | 'to',
  there: 'from' | 'to',
): Item | null {
  const next = links.find((one) => one[here] === item)?.[there]
  if (!next) return null
  return next.kind === 'join' ? across(links, next, here, there) : next
}
