import type { Definition } from '../workflow/definition.ts'
import { listsOf, type ListRef, type Place } from '../workflow/lists.ts'
import { isFork, type ForkStep, type Step, type StepKind } from '../workflow/steps.ts'
import { AT_ONCE, compareOffsets, meeting, offsetKey, offsetWords, type Offset } from './offsets.ts'
import { offsetAfter, offsetInside } from './stepOffsets.ts'

export type ItemKind = StepKind | 'start' | 'branch' | 'join'

/** Something drawn on the timetable. Rows are half open: from `rowFrom` up to before `rowTo`. */
export interface Item {
  id: string
  kind: ItemKind
  /** The key of the step or branch it shows; null for what is drawn but is no step. */
  key: string | null
  /** For `branch`: the step that forks there. */
  fork: string | null
  moment: number
  slot: number
  rowFrom: number
  rowTo: number
}

/** A line between two items, which is also a place to insert at. */
export interface Link {
  from: string
  to: string
  place: Place | null
}

/** A column: one moment, which takes as many slots side by side as its busiest path needs. */
export interface Moment {
  label: string
  firstSlot: number
  slots: number
}

/** A row: one path, told by the branches that lead onto it. */
export interface Row {
  letter: string
  names: string[]
}

export interface Timetable {
  rows: Row[]
  moments: Moment[]
  /** For each slot the kinds of item in it; the screen gives it a width. */
  slots: ItemKind[][]
  items: Item[]
  links: Link[]
}

interface Band {
  from: number
  to: number
}

/** Where a path has got to: its moment, how far along in it, and the item its line comes from. */
interface Pen {
  offset: Offset
  ordinal: number
  from: string
}

interface DraftItem extends Omit<Item, 'moment' | 'slot'> {
  offset: Offset
  ordinal: number
}

/**
 * Lays a workflow out as a timetable: rows are paths, columns are moments in order of time, and
 * every item has a slot of its own on its rows. Follows from the steps alone and is the same
 * each time; nothing is placed by hand.
 */
export function layoutTimetable(definition: Definition): Timetable {
  const sketch = new Sketch()
  const rowCount = heightOf(definition.steps)
  const band = { from: 0, to: rowCount }
  const start = sketch.add('start', null, band, { offset: AT_ONCE, ordinal: -1, from: '' })
  const last = sketch.list(definition.steps, null, band, start)
  if (last) {
    const place = { list: null, index: definition.steps.length }
    sketch.add('end', null, band, last, place)
  }
  return finish(sketch, rowNames(definition.steps, rowCount))
}

/** Collects items and links while walking the steps in reading order. */
class Sketch {
  readonly items: DraftItem[] = []
  readonly links: Link[] = []

  /** Draws the steps of a list after `pen`. Returns the pen after them, or null if the path ended. */
  list(steps: readonly Step[], list: ListRef, band: Band, pen: Pen): Pen | null {
    let at: Pen | null = pen
    steps.forEach((step, index) => {
      // Steps after an end are never reached; they are drawn after it so that they can be seen.
      const reached: Pen = at ?? this.unreachedAfter(band)
      at = this.step(step, { list, index }, band, reached)
    })
    return at
  }

  step(step: Step, place: Place, band: Band, pen: Pen): Pen | null {
    if (isFork(step)) return this.fork(step, place, band, pen)
    const later = moved(pen, offsetAfter(pen.offset, step))
    const next = this.add(step.kind, step.key, band, later, place)
    return step.kind === 'end' ? null : next
  }

  fork(step: ForkStep, place: Place, band: Band, pen: Pen): Pen | null {
    const fork = this.add(step.kind, step.key, band, pen, place)
    const lists = listsOf(step)
    const ends = bandsFor(lists, band).map((inner, index) => {
      const { branch, steps, holdout } = lists[index] ?? { branch: null, steps: [] }
      const way = moved(fork, offsetInside(fork.offset, step, branch))
      const pill = this.add('branch', branch, inner, way, null, step.key)
      const list = { fork: step.key, branch }
      const end = this.list(steps, list, inner, pill)
      return end && { end, place: holdout ? null : { list, index: steps.length } }
    })
    return this.join(
      step,
      band,
      ends.filter((one) => one !== null),
    )
  }

  join(step: ForkStep, band: Band, ends: { end: Pen; place: Place | null }[]): Pen | null {
    if (ends.length === 0) return null
    const offset = meeting(ends.map(({ end }) => end.offset))
    const id = `join:${step.key}`
    for (const { end, place } of ends) this.links.push({ from: end.from, to: id, place })
    return this.add('join', step.key, band, { offset, ordinal: -1, from: '' })
  }

  /** The pen for steps that nobody reaches: after the last item drawn, with no line to it. */
  unreachedAfter(band: Band): Pen {
    const previous = this.items.filter((item) => item.rowFrom >= band.from && item.rowTo <= band.to)
    const last = previous.at(-1)
    return { offset: last?.offset ?? AT_ONCE, ordinal: last?.ordinal ?? -1, from: '' }
  }

  /** How far a moment is taken up already by what is on any row of a band; -1 if by nothing. */
  lastOrdinalIn(band: Band, offset: Offset): number {
    const key = offsetKey(offset)
    const there = this.items.filter(
      (item) => item.rowFrom < band.to && band.from < item.rowTo && offsetKey(item.offset) === key,
    )
    return Math.max(-1, ...there.map((item) => item.ordinal))
  }

  add(
    kind: ItemKind,
    key: string | null,
    band: Band,
    pen: Pen,
    place: Place | null = null,
    fork: string | null = null,
  ): Pen {
    const id = [kind, fork, key].filter((part) => part !== null).join(':') || kind
    const ordinal = 1 + Math.max(pen.ordinal, this.lastOrdinalIn(band, pen.offset))
    this.items.push({
      id,
      kind,
      key,
      fork,
      rowFrom: band.from,
      rowTo: band.to,
      offset: pen.offset,
      ordinal,
    })
    if (pen.from !== '') this.links.push({ from: pen.from, to: id, place })
    return { offset: pen.offset, ordinal, from: id }
  }
}

/** A pen at another moment; where the moment is the same it keeps its place in it. */
function moved(pen: Pen, offset: Offset): Pen {
  const isSame = offsetKey(offset) === offsetKey(pen.offset)
  return { ...pen, offset, ordinal: isSame ? pen.ordinal : -1 }
}

/** How many rows a list needs: as many as its widest fork has paths, at least one. */
function heightOf(steps: readonly Step[]): number {
  const heights = steps.map((step) =>
    isFork(step) ? listsOf(step).reduce((sum, list) => sum + heightOf(list.steps), 0) : 1,
  )
  return Math.max(1, ...heights)
}

/** Shares the rows of a band out over lists; rows that none of them needs go to the last. */
function bandsFor(lists: { steps: readonly Step[] }[], band: Band): Band[] {
  let from = band.from
  return lists.map(({ steps }, index) => {
    const to = index === lists.length - 1 ? band.to : from + heightOf(steps)
    const inner = { from, to }
    from = to
    return inner
  })
}

/** The names that lead onto each row: of the first fork of a list, and inside it again. */
function rowNames(steps: readonly Step[], rowCount: number): string[][] {
  const fork = steps.find(isFork)
  if (!fork) return Array.from({ length: rowCount }, () => [])
  const lists = listsOf(fork)
  const bands = bandsFor(lists, { from: 0, to: rowCount })
  return lists.flatMap(({ name, steps: inner }, index) => {
    const band = bands[index] ?? { from: 0, to: 0 }
    return rowNames(inner, band.to - band.from).map((names) => [name, ...names])
  })
}

function finish(sketch: Sketch, names: string[][]): Timetable {
  const byKey = new Map(sketch.items.map((item) => [offsetKey(item.offset), item.offset]))
  const offsets = [...byKey.values()].toSorted(compareOffsets)
  const moments: Moment[] = []
  let firstSlot = 0
  for (const offset of offsets) {
    const inMoment = sketch.items.filter((item) => offsetKey(item.offset) === offsetKey(offset))
    const slots = Math.max(...inMoment.map((item) => item.ordinal)) + 1
    moments.push({ label: offsetWords(offset), firstSlot, slots })
    firstSlot += slots
  }
  const momentOf = new Map(offsets.map((offset, index) => [offsetKey(offset), index]))
  const items = sketch.items.map(({ offset, ordinal, ...item }): Item => {
    const moment = momentOf.get(offsetKey(offset)) ?? 0
    return { ...item, moment, slot: (moments[moment]?.firstSlot ?? 0) + ordinal }
  })
  const slots = Array.from({ length: firstSlot }, (_, slot) =>
    items.filter((item) => item.slot === slot).map((item) => item.kind),
  )
  return { rows: names.map(toRow), moments, slots, items, links: sketch.links }
}

function toRow(names: string[], index: number): Row {
  return { letter: rowLetter(index), names }
}

/** A, B … Z, AA, AB …, as spreadsheets count. */
function rowLetter(index: number): string {
  const last = String.fromCharCode(65 + (index % 26))
  return index < 26 ? last : rowLetter(Math.floor(index / 26) - 1) + last
}
