import type { Item, Timetable } from '../../../core/timetable/layout.ts'

const SLOT = 24
const ROW = 24
const EDGE = 6
const HEAD = 18
/** What a letter takes: of a moment, in mono, and of a path's name. */
const MONO = 5.8
const LETTER = 5.4
const LONGEST_NAME = 14

export interface MiniGeometry {
  width: number
  height: number
  /** The moments that have something to say. */
  moments: { label: string; left: number }[]
  /** Where a slot begins. */
  leftOf: (slot: number) => number
  centreOf: (item: Item) => { x: number; y: number }
  /** What a path is called, and how wide that is. */
  nameOf: (item: Item) => { text: string; width: number }
}

/** Where everything of a small timetable stands, in pixels. */
export function miniGeometry(layout: Timetable): MiniGeometry {
  const own = layout.slots.map(slotWidth)
  const edges = [EDGE]
  for (const width of withRoomForLabels(layout, own)) edges.push((edges.at(-1) ?? 0) + width)
  const leftOf = (slot: number) => edges[slot] ?? EDGE
  return {
    width: (edges.at(-1) ?? 0) + EDGE,
    height: HEAD + layout.rows.length * ROW + EDGE,
    moments: layout.moments
      .filter(({ label }) => label !== '')
      .map(({ label, firstSlot }) => ({ label, left: leftOf(firstSlot) })),
    leftOf,
    centreOf: ({ slot, rowFrom, rowTo }) => ({
      // What a slot was widened by for its moment's words stays empty.
      x: leftOf(slot) + (own[slot] ?? SLOT) / 2,
      y: HEAD + ((rowFrom + rowTo) / 2) * ROW,
    }),
    nameOf: ({ label }) => ({ text: shortName(label), width: nameWidth(label) }),
  }
}

const shortName = (label: string): string =>
  label.length <= LONGEST_NAME ? label : `${label.slice(0, LONGEST_NAME - 1).trimEnd()}…`

const nameWidth = (label: string): number => Math.ceil(shortName(label).length * LETTER) + 10

function slotWidth(items: readonly Item[]): number {
  const names = items.filter(({ kind }) => kind === 'branch')
  return Math.max(SLOT, ...names.map(({ label }) => nameWidth(label) + 10))
}

/** The slots with the last of each moment widened so that what it is called has room. */
function withRoomForLabels({ moments }: Timetable, widths: readonly number[]): number[] {
  const wide = [...widths]
  for (const { label, firstSlot, slots } of moments) {
    const has = sum(widths.slice(firstSlot, firstSlot + slots))
    const last = firstSlot + slots - 1
    const lacks = Math.ceil(label.length * MONO) + 8 - has
    if (lacks > 0) wide[last] = (wide[last] ?? 0) + lacks
  }
  return wide
}

const sum = (widths: readonly number[]): number => widths.reduce((all, width) => all + width, 0)
