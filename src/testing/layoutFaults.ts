import { layoutTimetable, type Item, type Timetable } from '../core/timetable/layout.ts'
import type { Definition } from '../core/workflow/definition.ts'
import {
  geometryOf,
  HEAD_HEIGHT,
  HEAD_WIDTH,
  lineParts,
  PLUS,
  plusAt,
  plusSide,
  type Box,
  type Geometry,
} from '../web/workflows/timetable/geometry.ts'

/** What would keep somebody from reading the timetable of a workflow; nothing for a good one. */
export function layoutFaults(definition: Definition): string[] {
  const layout = layoutTimetable(definition)
  const geometry = geometryOf(layout)
  return [
    ...outside(layout, geometry),
    ...touching(layout, geometry),
    ...crossed(layout, geometry),
    ...hidden(layout, geometry),
    ...backwards(layout),
  ]
}

const apart = (a: Box, b: Box): boolean =>
  a.left + a.width <= b.left ||
  b.left + b.width <= a.left ||
  a.top + a.height <= b.top ||
  b.top + b.height <= a.top

function outside({ items }: Timetable, { boxOf, width, height }: Geometry): string[] {
  return items
    .filter((item) => {
      const box = boxOf(item)
      const isInside = box.left >= HEAD_WIDTH && box.top >= HEAD_HEIGHT
      return !isInside || box.left + box.width > width || box.top + box.height > height
    })
    .map(({ id }) => `${id} lies outside`)
}

function touching({ items }: Timetable, { boxOf }: Geometry): string[] {
  return items.flatMap((a, index) =>
    items
      .slice(index + 1)
      .filter((b) => !apart(boxOf(a), boxOf(b)))
      .map((b) => `${a.id} lies on ${b.id}`),
  )
}

function crossed({ items, links }: Timetable, { boxOf }: Geometry): string[] {
  const boxes = items.map((item) => ({ item, box: boxOf(item) }))
  return links.flatMap(({ from, to }) => {
    const { own, shared } = lineParts(boxOf(from), boxOf(to))
    const parts = [own, shared].flatMap((path) => (path ? strokesOf(path) : []))
    return boxes
      .filter(
        ({ item, box }) => item !== from && item !== to && parts.some((part) => !apart(part, box)),
      )
      .map(({ item }) => `the line from ${from.id} to ${to.id} runs through ${item.id}`)
  })
}

/** The straight parts of a line, as boxes without thickness. */
function strokesOf(path: string): Box[] {
  let [x, y] = [0, 0]
  const commands = path.matchAll(/([MHV])([\d.]+)(?: ([\d.]+))?/g)
  return [...commands].flatMap(([, command, first, second]) => {
    const before = { x, y }
    if (command !== 'V') x = Number(first)
    if (command === 'V') y = Number(first)
    if (command === 'M') {
      y = Number(second)
      return []
    }
    const [left, top] = [Math.min(before.x, x), Math.min(before.y, y)]
    return [{ left, top, width: Math.abs(before.x - x), height: Math.abs(before.y - y) }]
  })
}

function hidden({ links }: Timetable, { boxOf }: Geometry): string[] {
  const points = links.flatMap(({ from, to, place }) =>
    place ? [{ ...cornerOf(from, to, boxOf), before: to.id }] : [],
  )
  return points.flatMap((a, index) =>
    points
      .slice(index + 1)
      .filter((b) => Math.hypot(a.left - b.left, a.top - b.top) < PLUS)
      .map((b) => `the place before ${a.before} hides the one before ${b.before}`),
  )
}

/** Where the "+" of a line has its corner. */
function cornerOf(from: Item, to: Item, boxOf: Geometry['boxOf']) {
  const side = plusSide(from, to)
  const box = boxOf(side === 'before' ? to : from)
  const { left, top } = plusAt(side, box)
  return { left: box.left + left, top: box.top + top }
}

function backwards({ links }: Timetable): string[] {
  return links
    .filter(({ from, to }) => from.slot >= to.slot)
    .map(({ from, to }) => `the line from ${from.id} to ${to.id} runs backwards`)
}
