import { layoutTimetable, type Timetable } from '../core/timetable/layout.ts'
import type { Definition } from '../core/workflow/definition.ts'
import {
  geometryOf,
  HEAD_HEIGHT,
  HEAD_WIDTH,
  insertPoint,
  lineParts,
  type Box,
  type Geometry,
} from '../web/workflows/timetable/geometry.ts'

/** The size of a "+": two whose middles are nearer to each other hide one another. */
const POINT = 18

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
  const byId = new Map(items.map((item) => [item.id, boxOf(item)]))
  return links.flatMap(({ from, to }) => {
    const [start, end] = [byId.get(from), byId.get(to)]
    if (!start || !end) return [`a line from ${from} to ${to} leads nowhere`]
    const { own, shared } = lineParts(start, end)
    const parts = [own, shared].flatMap((path) => (path ? strokesOf(path) : []))
    return [...byId]
      .filter(([id, box]) => id !== from && id !== to && parts.some((part) => !apart(part, box)))
      .map(([id]) => `the line from ${from} to ${to} runs through ${id}`)
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

function hidden({ items, links }: Timetable, { boxOf }: Geometry): string[] {
  const byId = new Map(items.map((item) => [item.id, boxOf(item)]))
  const points = links.flatMap(({ from, to, place }) => {
    const [start, end] = [byId.get(from), byId.get(to)]
    return place && start && end ? [{ ...insertPoint(start, end), before: to }] : []
  })
  return points.flatMap((a, index) =>
    points
      .slice(index + 1)
      .filter((b) => Math.hypot(a.x - b.x, a.y - b.y) < POINT)
      .map((b) => `the place before ${a.before} hides the one before ${b.before}`),
  )
}

function backwards({ items, links }: Timetable): string[] {
  const slots = new Map(items.map(({ id, slot }) => [id, slot]))
  return links
    .filter(({ from, to }) => (slots.get(from) ?? 0) >= (slots.get(to) ?? 0))
    .map(({ from, to }) => `the line from ${from} to ${to} runs backwards`)
}
