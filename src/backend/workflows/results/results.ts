import type {
  CohortResults,
  MessageResults,
  WayResults,
  WayThrough,
} from '../../../contract/results.ts'
import type { Db } from '../../platform/db.ts'
import { numbersIn, readWaiting } from './cohortNumbers.ts'
import { stepsIn, summed, type CountedRow, type CountedWay } from './counted.ts'
import type { Counts } from './dayCounts.ts'
import type { Cohort } from './facts.ts'
import { countFromScratch } from './rolledUp.ts'

/** How a cohort is counted: from scratch, or from what is kept of its days. */
export type CountsOf = (db: Db, asked: Cohort) => Promise<Counts>

/**
 * What came of those who entered a workflow in a time, message by message. What they did counts for as long
 * as their window goes, from the moment they entered; those whose window is over stand apart from those
 * for whom more may come. The measures are defined in docs/measures.md.
 */
export async function workflowResults(
  db: Db,
  asked: Cohort,
  countsOf: CountsOf = countFromScratch,
): Promise<{ over: CohortResults; open: CohortResults }> {
  return resultsOf(await countsOf(db, asked))
}

/** The same, with what the timetable shows at each stop and of each path: of those whose window is over, and of all. */
export async function resultsWithNumbers(
  db: Db,
  asked: Cohort,
  countsOf: CountsOf = countFromScratch,
): Promise<{
  over: CohortResults
  open: CohortResults
  through: { over: WayThrough; all: WayThrough }
}> {
  const counts = await countsOf(db, asked)
  const waiting = await readWaiting(db, asked)
  const through = (isWithOpen: boolean): WayThrough => ({
    numbers: numbersIn(counts.messages, { ...counts, waiting }, isWithOpen),
    ways: waysIn(counts.ways, isWithOpen),
  })
  return { ...resultsOf(counts), through: { over: through(false), all: through(true) } }
}

/** Each way once: of those whose window is over, and with `isWithOpen` of the others too. */
function waysIn(rows: readonly CountedWay[], isWithOpen: boolean): WayResults[] {
  const counted = rows.filter(({ isOver }) => isWithOpen || isOver)
  const keys = [...new Set(counted.map(({ step, branch }) => JSON.stringify([step, branch])))]
  return keys.map((key) => {
    const [first, ...others] = counted.filter(({ step, branch }) => JSON.stringify([step, branch]) === key) // prettier-ignore
    if (!first) throw new RangeError('A way that nobody took')
    const { isOver: _isOver, span: _span, version: _version, ...way } = first
    for (const other of others) for (const figure of WAY_FIGURES) way[figure] += other[figure]
    return way
  })
}

const WAY_FIGURES = ['people', 'delivered', 'opened', 'clicked', 'bought', 'unsubscribed', 'complained'] as const // prettier-ignore

function resultsOf({ entered, messages }: Counts): { over: CohortResults; open: CohortResults } {
  const of = (isOver: boolean): CohortResults => {
    const mine = messages.filter((row) => row.isOver === isOver)
    const all = mine.find(({ step }) => step === null)
    return {
      entered: entered.find((row) => row.isOver === isOver)?.entered ?? 0,
      ordered: all?.ordered ?? 0,
      orders: all?.orders ?? 0,
      revenueMinor: all?.revenueMinor ?? 0,
      messages: stepsIn(mine).map((step) => messageOf(step, mine)),
    }
  }
  return { over: of(true), open: of(false) }
}

function messageOf(step: string, rows: readonly CountedRow[]): MessageResults {
  const own = rows.filter((row) => row.step === step)
  const notSent = own.flatMap(({ code, exclusion, reached }) =>
    code === null ? [] : [{ code, exclusion, count: reached }],
  )
  return { step, ...summed(own), notSent: notSent.toSorted((a, b) => b.count - a.count) }
}
