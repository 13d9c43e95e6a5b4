import type { Definition } from '../workflow/definition.ts'
import { listsOf, type ListRef, type Place } from '../workflow/lists.ts'
import { isFork, type ForkStep, type Step, type StepKind } from '../workflow/steps.ts'
import {
  afterEntry,
  AT_ONCE,
  compareOffsets,
  meeting,
  offsetKey,
  offsetWords,
  type Offset,
} from './offsets.ts'
import { heightOf, rowsNeeded, sharesOf, type Band } from './rows.ts'
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
  /** Several paths come through it, also if it stands on the row of one of them. */
  shared: boolean
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
  /** Roughly how many milliseconds after entry at the latest; null where it hangs on a date. */
  afterMs: number | null
  firstSlot: number
  slots: number
}

/** A row: one path, told by the branches that lead onto it. */
export interface Row {
  letter: string
  /** What leads onto it is called, from the outermost fork inwards. */
  names: string[]
  /** The innermost way that leads onto it; null where nothing forks. */
  way: ListRef
}

export interface Timetable {
  rows: Row[]
  moments: Moment[]
  /** For each slot the kinds of item in it; the screen gives it a width. */
  slots: ItemKind[][]
  items: Item[]
  links: Link[]
}

/** A moment while it is drawn: what stands in it, and how far it is taken up on each row. */
interface Column {
  offset: Offset
  items: DraftItem[]
  filled: number[]
}

/** Where a path has got to: its moment, how far along in it, and the item its line comes from. */
interface Pen {
  column: Column
  ordinal: number
  from: string
  /** Several paths have come together here. */
  shared: boolean
}

/** A pen and the rows that its path travels on. */
interface Way {
  pen: Pen
  band: Band
}

type DraftItem = Omit<Item, 'moment' | 'slot'> & { column: Column; ordinal: number }

/**
 * Lays a workflow out as a timetable: rows are paths, columns are moments in order of time, and
 * every item has a slot of its own on its rows. Follows from the steps alone and is the same
 * each time; nothing is placed by hand.
 */
export function layoutTimetable(definition: Definition): Timetable {
  const { steps } = definition
  const sketch = new Sketch()
  const rowCount = heightOf(steps)
  const band = { from: 0, to: rowCount }
  const pen = { column: sketch.column(AT_ONCE), ordinal: -1, from: '', shared: false }
  const way = sketch.list(steps, null, { pen: sketch.add('start', null, band, pen), band })
  if (way) {
    const place = { list: null, index: steps.length }
    sketch.add('end', null, way.band, way.pen, place)
  }
  return finish(sketch, rowWays(steps, rowCount))
}

/** Collects items and links while walking the steps in reading order. */
class Sketch {
  readonly items: DraftItem[] = []
  readonly links: Link[] = []
  /** The moments by their keys. */
  readonly columns = new Map<string, Column>()

  /** Draws the steps of a list from where `way` has got to. Returns how it goes on; null if it ended. */
  list(steps: readonly Step[], list: ListRef, way: Way): Way | null {
    const needs = rowsNeeded(steps)
    let { band } = way
    let at: Way | null = way
    let ended = false
    steps.forEach((step, index) => {
      // Steps after an end are never reached; they are drawn after it so that they can be seen.
      const pen: Pen = at?.pen ?? this.unreachedAfter(band)
      const place = { list, index }
      at = isFork(step)
        ? this.fork(step, place, { pen, band }, needs[index + 1] ?? 1)
        : this.step(step, place, { pen, band })
      band = at?.band ?? band
      ended ||= at === null
    })
    return ended ? null : at
  }

  step(step: Exclude<Step, ForkStep>, place: Place, { pen, band }: Way): Way | null {
    const later = this.moved(pen, offsetAfter(pen.column.offset, step))
    const next = this.add(step.kind, step.key, band, later, place)
    return step.kind === 'end' ? null : { pen: next, band }
  }

  /** Draws a fork; what follows it needs `rest` rows. */
  fork(step: ForkStep, place: Place, { pen, band }: Way, rest: number): Way | null {
    const fork = this.add(step.kind, step.key, band, pen, place)
    const { bands, goesOn } = sharesOf(step, band.to - band.from, rest)
    const ends = listsOf(step).flatMap(({ branch, steps, holdout }, index) => {
      const inner = shifted(bands[index] ?? band, band.from)
      const way = this.moved(fork, offsetInside(fork.column.offset, step, branch))
      const pill = this.add('branch', branch, inner, { ...way, shared: false }, null, step.key)
      const list = { fork: step.key, branch }
      const end = this.list(steps, list, { pen: pill, band: inner })
      return end ? [{ end: end.pen, place: holdout ? null : { list, index: steps.length } }] : []
    })
    if (!goesOn || ends.length === 0) return null
    const after = shifted(goesOn, band.from)
    return { pen: this.join(step, after, ends), band: after }
  }

  join(step: ForkStep, band: Band, ends: { end: Pen; place: Place | null }[]): Pen {
    const column = this.column(meeting(ends.map(({ end }) => end.column.offset)))
    const id = `join:${step.key}`
    for (const { end, place } of ends) this.links.push({ from: end.from, to: id, place })
    // Behind the last thing on each of the paths, also of those whose rows do not go on.
    const there = ends.filter(({ end }) => end.column === column)
    const ordinal = Math.max(-1, ...there.map(({ end }) => end.ordinal))
    const shared = ends.length > 1 || ends.some(({ end }) => end.shared)
    return this.add('join', step.key, band, { column, ordinal, from: '', shared })
  }

  /** The pen for steps that nobody reaches: after the last item drawn, with no line to it. */
  unreachedAfter(band: Band): Pen {
    const previous = this.items.filter((item) => item.rowFrom >= band.from && item.rowTo <= band.to)
    const last = previous.at(-1)
    const column = last?.column ?? this.column(AT_ONCE)
    return { column, ordinal: last?.ordinal ?? -1, from: '', shared: false }
  }

  column(offset: Offset): Column {
    const key = offsetKey(offset)
    const known = this.columns.get(key)
    if (known) return known
    const column: Column = { offset, items: [], filled: [] }
    this.columns.set(key, column)
    return column
  }

  /** A pen at another moment; where the moment is the same it keeps its place in it. */
  moved(pen: Pen, offset: Offset): Pen {
    if (offset === pen.column.offset) return pen
    const column = this.column(offset)
    return { ...pen, column, ordinal: column === pen.column ? pen.ordinal : -1 }
  }

  add(
    kind: ItemKind,
    key: string | null,
    band: Band,
    pen: Pen,
    place: Place | null = null,
    fork: string | null = null,
  ): Pen {
    const id = `${kind}${fork === null ? '' : `:${fork}`}${key === null ? '' : `:${key}`}`
    const { column, from } = pen
    const shared = pen.shared || band.to - band.from > 1
    let last = pen.ordinal
    for (let row = band.from; row < band.to; row += 1) {
      last = Math.max(last, column.filled[row] ?? -1)
    }
    const ordinal = last + 1
    for (let row = band.from; row < band.to; row += 1) column.filled[row] = ordinal
    // Named one by one, here and below: taking objects apart is most of what a layout would take.
    const { from: rowFrom, to: rowTo } = band
    const item = { id, kind, key, fork, rowFrom, rowTo, shared, column, ordinal }

    this.items.push(item)
    column.items.push(item)
    if (from !== '') this.links.push({ from, to: id, place })
    return { column, ordinal, from: id, shared: pen.shared }
  }
}

const shifted = ({ from, to }: Band, by: number): Band => ({ from: from + by, to: to + by })

type RowWay = NonNullable<ListRef> & { name: string }

/** The ways that lead onto each row: of the first fork of a list, and inside it again. */
function rowWays(steps: readonly Step[], rowCount: number): RowWay[][] {
  const first = steps.findIndex(isFork)
  const fork = steps[first]
  if (!fork || !isFork(fork)) return Array.from({ length: rowCount }, () => [])
  const { bands } = sharesOf(fork, rowCount, rowsNeeded(steps)[first + 1] ?? 1)
  return listsOf(fork).flatMap(({ name, branch, steps: inner }, index) => {
    const band = bands[index] ?? { from: 0, to: 0 }
    const way = { fork: fork.key, branch, name }
    return rowWays(inner, band.to - band.from).map((ways) => [way, ...ways])
  })
}

function finish(sketch: Sketch, ways: RowWay[][]): Timetable {
  const columns = [...sketch.columns.values()]
    .filter(({ items }) => items.length > 0)
    .toSorted((a, b) => compareOffsets(a.offset, b.offset))
  let firstSlot = 0
  const moments = columns.map(({ offset, items }): Moment => {
    const slots = Math.max(...items.map(({ ordinal }) => ordinal)) + 1
    firstSlot += slots
    return {
      label: offsetWords(offset),
      afterMs: afterEntry(offset),
      firstSlot: firstSlot - slots,
      slots,
    }
  })
  const momentOf = new Map(columns.map((column, index) => [column, index]))
  const slots: ItemKind[][] = Array.from({ length: firstSlot }, () => [])
  const items = sketch.items.map((drawn): Item => {
    const { id, kind, key, fork, rowFrom, rowTo, shared, column, ordinal } = drawn
    const moment = momentOf.get(column) ?? 0
    const slot = (moments[moment]?.firstSlot ?? 0) + ordinal
    slots[slot]?.push(kind)
    return { id, kind, key, fork, moment, slot, rowFrom, rowTo, shared }
  })
  return { rows: ways.map(toRow), moments, slots, items, links: sketch.links }
}

function toRow(ways: RowWay[], index: number): Row {
  const last = ways.at(-1)
  return {
    letter: rowLetter(index),
    names: ways.map(({ name }) => name),
    way: last ? { fork: last.fork, branch: last.branch } : null,
  }
}

/** A, B … Z, AA, AB …, as spreadsheets count. */
function rowLetter(index: number): string {
  const last = String.fromCharCode(65 + (index % 26))
  return index < 26 ? last : rowLetter(Math.floor(index / 26) - 1) + last
}
