import type { Instant } from '../../../core/shared/time.ts'
import type { Ways } from './cohortNumbers.ts'
import type { Counted } from './counted.ts'

/** All that is counted of who entered in a time, by parts of it, versions, and whether their window is over. */
export type Counts = Counted & Ways

type Row = { span: Instant; version: number; isOver: boolean }
type Stored<Kind> = Omit<Kind, 'span' | 'isOver'>

/** The counts of one day; whether its window is over follows from the time. */
export type DayCounts = { [Part in keyof Counts]: Stored<Counts[Part][number]>[] }

const PARTS = [
  'entered',
  'messages',
  'ways',
  'ledger',
  'earned',
] as const satisfies (keyof Counts)[]

/** One function for each part, so that each keeps its own type. */
function eachPart(change: <Kind extends Row>(rows: Kind[]) => Kind[], counts: Counts): Counts {
  return {
    entered: change(counts.entered),
    messages: change(counts.messages),
    ways: change(counts.ways),
    ledger: change(counts.ledger),
    earned: change(counts.earned),
  }
}

/** Those of one part of the time, to be kept. */
export function storedOf(counts: Counts, span: Instant): DayCounts {
  const own = eachPart((rows) => rows.filter((row) => row.span === span), counts)
  const stored = PARTS.map((part) => [
    part,
    own[part].map(({ span: _span, isOver: _isOver, ...row }) => row),
  ])
  return Object.fromEntries(stored) as DayCounts
}

/** What was kept of a day, as it was counted. */
export function countsFrom(stored: DayCounts, span: Instant, isOver: boolean): Counts {
  const rows = PARTS.map((part) => [part, stored[part].map((row) => ({ ...row, span, isOver }))])
  return Object.fromEntries(rows) as Counts
}

/** The counts of several times together, of one version or of all, each thing once. */
export function together(all: readonly Counts[], version?: number): Counts {
  const joined: Counts = {
    entered: all.flatMap(({ entered }) => entered),
    messages: all.flatMap(({ messages }) => messages),
    ways: all.flatMap(({ ways }) => ways),
    ledger: all.flatMap(({ ledger }) => ledger),
    earned: all.flatMap(({ earned }) => earned),
  }
  return eachPart(
    (rows) => addUp(rows.filter((row) => version === undefined || row.version === version)),
    joined,
  )
}

/** What rows are told apart by, each where it has it. */
const NAMES = ['isOver', 'kind', 'step', 'branch', 'code', 'exclusion'] as const
type Named = Row & Partial<Record<(typeof NAMES)[number], string | boolean | null>>

/** Rows that say the same of other parts of the time and of other versions, as one: their figures are added up. */
function addUp<Kind extends Row>(rows: readonly Kind[]): Kind[] {
  const sums = new Map<string, Kind>()
  for (const row of rows) {
    const key = NAMES.map((name) => nameIn((row as Named)[name])).join('\u0001')
    const known = sums.get(key)
    if (known) add(known, row)
    else sums.set(key, { ...row })
  }
  return [...sums.values()]
}

const nameIn = (value: string | boolean | null | undefined): string =>
  value === null || value === undefined ? '\u0000' : String(value)

function add<Kind extends Row>(sum: Kind, row: Kind): void {
  const [figures, more] = [sum, row] as unknown as Record<string, unknown>[]
  for (const [name, value] of Object.entries(more ?? {})) {
    const isFigure = typeof value === 'number' && name !== 'span' && name !== 'version'
    if (isFigure && figures) figures[name] = Number(figures[name]) + value
  }
}
