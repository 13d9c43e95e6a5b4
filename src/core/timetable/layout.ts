import { remembered } from '../shared/remembered.ts'
import { wayName } from '../words/wayNames.ts'
import { shortWait } from '../words/steps.ts'
import type { Definition } from '../workflow/definition.ts'
import { listsOf, type ListRef, type Place } from '../workflow/lists.ts'
import { isBranching, type BranchingStep, type Step, type StepKind } from '../workflow/steps.ts'
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
import { offsetAfter, offsetInside, startWords } from './stepOffsets.ts'

export type ItemKind = StepKind | 'start' | 'branch' | 'join'

/** Something drawn on the timetable. Rows are half open: from `rowFrom` up to before `rowTo`. */
export interface Item {
  id: string
  kind: ItemKind
  /** The key of the step or branch it shows; null for what is drawn but is no step. */
  key: string | null
  /** For `branch`: the branching step there. */
  branching: string | null
  /** What stands in a wait or path, which decides how wide it is; empty for all else. */
  label: string
  moment: number
  slot: number
  rowFrom: number
  rowTo: number
  /** Several paths come through it, also if it stands on the row of one of them. */
  shared: boolean
}

/** A line between two items, which is also a place to insert at. */
export interface Link {
  from: Item
  to: Item
  place: Place | null
}

/** A column: one moment, which takes as many slots side by side as its busiest path needs. */
export interface Moment {
  /** Empty where nothing happens but that paths meet or end. */
  label: string
  /** Roughly how many milliseconds after entry at the latest; null where it hangs on a date. */
  afterMs: number | null
  firstSlot: number
  slots: number
}

/** A row: one path, told by the branches that lead onto it. */
export interface Row {
  letter: string
  /** What leads onto it is called, from the outermost branching step inwards. */
  names: string[]
  /** The innermost way that leads onto it; null where nothing branches. */
  way: ListRef
}

export interface Timetable {
  rows: Row[]
  moments: Moment[]
  /** For each slot what stands in it; the screen gives it a width. */
  slots: Item[][]
  items: Item[]
  links: Link[]
}

/** A moment while it is drawn: what stands in it, and how far it is taken up on each row. */
interface Column {
  offset: Offset
  items: Item[]
  filled: number[]
  slots: number
}

/** Where a path has got to: its moment, how far along in it, and the item its line comes from. */
interface Pen {
  column: Column
  ordinal: number
  from: Item | null
  /** Several paths have come together here. */
  shared: boolean
}

/** A pen and the rows that its path travels on. */
interface Way {
  pen: Pen
  band: Band
}

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
  const pen = { column: sketch.column(AT_ONCE), ordinal: -1, from: null, shared: false }
  const way = sketch.list(steps, null, { pen: sketch.add('start', null, band, pen), band })
  if (way) {
    const place = { list: null, index: steps.length }
    sketch.add('end', null, way.band, way.pen, place)
  }
  return finish(sketch, rowWays(steps, rowCount), startWords(definition.trigger))
}

/**
 * Collects items and links while walking the steps in reading order. Until `finish` the slot of an
 * item counts within its moment. An edit waits for all of this: so loops, and no objects in between.
 */
class Sketch {
  readonly items: Item[] = []
  readonly links: Link[] = []
  /** The moments by their keys. */
  readonly columns = new Map<string, Column>()

  /** Draws the steps of a list from where `way` has got to. Returns how it goes on; null if it ended. */
  list(steps: readonly Step[], list: ListRef, way: Way): Way | null {
    const needs = rowsNeeded(steps)
    let { band } = way
    let pen: Pen | null = way.pen
    let ended = false
    for (const [index, step] of steps.entries()) {
      // Steps after an end are never reached; they are drawn after it so that they can be seen.
      pen ??= this.unreachedAfter(band)
      const place = { list, index }
      if (isBranching(step)) {
        const after = this.branching(step, place, pen, band, needs[index + 1] ?? 1)
        pen = after ? after.pen : null
        band = after ? after.band : band
      } else {
        const at = this.moved(pen, offsetAfter(pen.column.offset, step))
        const label = step.kind === 'wait' ? waitLabel(step) : ''
        pen = this.add(step.kind, step.key, band, at, place, null, label)
        if (step.kind === 'end') pen = null
      }
      ended ||= pen === null
    }
    return ended || !pen ? null : { pen, band }
  }

  /** Draws a branching step; what follows it needs `rest` rows. */
  branching(step: BranchingStep, place: Place, pen: Pen, band: Band, rest: number): Way | null {
    const branching = this.add(step.kind, step.key, band, pen, place)
    const { bands, goesOn } = sharesOf(step, band.to - band.from, rest)
    const ends: Pen[] = []
    const places: (Place | null)[] = []
    for (const [index, way] of listsOf(step).entries()) {
      const { branch, steps, holdout } = way
      const inner = shifted(bands[index] ?? band, band.from)
      const { column, ordinal, from } = this.moved(
        branching,
        offsetInside(branching.column.offset, step, branch),
      )
      const start = { column, ordinal, from, shared: false }
      const pill = this.add('branch', branch, inner, start, null, step.key, wayName(step, way))
      const list = { branching: step.key, branch }
      const end = this.list(steps, list, { pen: pill, band: inner })
      if (!end) continue
      ends.push(end.pen)
      places.push(holdout ? null : { list, index: steps.length })
    }
    if (!goesOn || ends.length === 0) return null
    const after = shifted(goesOn, band.from)
    return { pen: this.join(step, after, ends, places), band: after }
  }

  /** Draws where paths meet again; `places` are those at their ends. */
  join(
    step: BranchingStep,
    band: Band,
    ends: readonly Pen[],
    places: readonly (Place | null)[],
  ): Pen {
    const column = this.column(meeting(ends.map((end) => end.column.offset)))
    let ordinal = -1
    let shared = ends.length > 1
    for (const end of ends) {
      // Behind the last thing on each of the paths, also of those whose rows do not go on.
      if (end.column === column) ordinal = Math.max(ordinal, end.ordinal)
      shared ||= end.shared
    }
    const pen = this.add('join', step.key, band, { column, ordinal, from: null, shared })
    for (const [index, { from }] of ends.entries()) this.link(from, pen.from, places[index] ?? null)
    return pen
  }

  /** The pen for steps that nobody reaches: after the last item drawn, with no line to it. */
  unreachedAfter(band: Band): Pen {
    const last = this.items.findLast(
      ({ rowFrom, rowTo }) => rowFrom >= band.from && rowTo <= band.to,
    )
    const columns = [...this.columns.values()]
    const column = columns.find(({ items }) => last && items.includes(last))
    return {
      column: column ?? this.column(AT_ONCE),
      ordinal: last?.slot ?? -1,
      from: null,
      shared: false,
    }
  }

  column(offset: Offset): Column {
    const key = offsetKey(offset)
    const known = this.columns.get(key)
    if (known) return known
    const column: Column = { offset, items: [], filled: [], slots: 0 }
    this.columns.set(key, column)
    return column
  }

  /** A pen at another moment; where the moment is the same it keeps its place in it. */
  moved(pen: Pen, offset: Offset): Pen {
    if (offset === pen.column.offset) return pen
    const column = this.column(offset)
    const ordinal = column === pen.column ? pen.ordinal : -1
    return { column, ordinal, from: pen.from, shared: pen.shared }
  }

  add(
    kind: ItemKind,
    key: string | null,
    band: Band,
    pen: Pen,
    place: Place | null = null,
    branching: string | null = null,
    label = '',
  ): Pen {
    const { column, from } = pen
    const { from: rowFrom, to: rowTo } = band
    const { filled } = column
    let slot = pen.ordinal
    for (let row = rowFrom; row < rowTo; row += 1) slot = Math.max(slot, filled[row] ?? -1)
    slot += 1
    for (let row = rowFrom; row < rowTo; row += 1) filled[row] = slot

    const shared = pen.shared || rowTo - rowFrom > 1
    const id = idOf(kind, key, branching)
    const item = { id, kind, key, branching, label, moment: 0, slot, rowFrom, rowTo, shared }
    this.items.push(item)
    column.items.push(item)
    column.slots = Math.max(column.slots, slot + 1)
    this.link(from, item, place)
    return { column, ordinal: slot, from: item, shared: pen.shared }
  }

  link(from: Item | null, to: Item | null, place: Place | null): void {
    if (from && to) this.links.push({ from, to, place })
  }
}

function idOf(kind: ItemKind, key: string | null, branching: string | null): string {
  if (key === null && branching === null) return kind
  if (branching === null) return `${kind}:${key}`
  return key === null ? `${kind}:${branching}` : `${kind}:${branching}:${key}`
}

const waitLabel = remembered(shortWait)

const shifted = ({ from, to }: Band, by: number): Band => ({ from: from + by, to: to + by })

type RowWay = NonNullable<ListRef> & { name: string }

/** The ways that lead onto each row: of the first branching step of a list, and inside it again. */
function rowWays(steps: readonly Step[], rowCount: number): RowWay[][] {
  const first = steps.findIndex(isBranching)
  const branching = steps[first]
  if (!branching || !isBranching(branching)) return Array.from({ length: rowCount }, () => [])
  const { bands } = sharesOf(branching, rowCount, rowsNeeded(steps)[first + 1] ?? 1)
  return listsOf(branching).flatMap((list, index) => {
    const { branch, steps: inner } = list
    const band = bands[index] ?? { from: 0, to: 0 }
    const way = { branching: branching.key, branch, name: wayName(branching, list) }
    return rowWays(inner, band.to - band.from).map((ways) => [way, ...ways])
  })
}

function finish({ columns, items, links }: Sketch, ways: RowWay[][], start: string): Timetable {
  const inOrder = [...columns.values()]
    .filter((column) => column.items.length > 0)
    .toSorted((a, b) => compareOffsets(a.offset, b.offset))
  const slots: Item[][] = []
  const moments: Moment[] = []
  for (const { offset, items: within, slots: count } of inOrder) {
    const firstSlot = slots.length
    for (let slot = 0; slot < count; slot += 1) slots.push([])
    for (const item of within) {
      item.moment = moments.length
      item.slot += firstSlot
      slots[item.slot]?.push(item)
    }
    const words = offset === AT_ONCE ? start : offsetWords(offset)
    const label = within.every(isMark) ? '' : words
    moments.push({ label, afterMs: afterEntry(offset), firstSlot, slots: count })
  }
  return { rows: ways.map(toRow), moments, slots, items, links }
}

/** Drawn for the lines' sake only. */
const isMark = ({ kind }: Item): boolean => kind === 'join' || kind === 'end'

function toRow(ways: RowWay[], index: number): Row {
  const last = ways.at(-1)
  return {
    letter: rowLetter(index),
    names: ways.map(({ name }) => name),
    way: last ? { branching: last.branching, branch: last.branch } : null,
  }
}

/** A, B … Z, AA, AB …, as spreadsheets count. */
function rowLetter(index: number): string {
  const last = String.fromCharCode(65 + (index % 26))
  return index < 26 ? last : rowLetter(Math.floor(index / 26) - 1) + last
}
