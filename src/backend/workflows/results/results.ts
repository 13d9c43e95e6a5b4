import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { CohortResults, MessageResults } from '../../../contract/results.ts'
import type { WorkflowNumbersResponse } from '../../../contract/workflows.ts'
import { rowsOf, type Db } from '../../platform/db.ts'
import { numbersIn, readWays } from './cohortNumbers.ts'
import { countFacts, stepsIn, summed, type CountedRow } from './counted.ts'
import { cohortOf, type Cohort } from './facts.ts'

/**
 * What came of those who entered a workflow in a time, message by message. What they did counts for as long
 * as their window goes, from the moment they entered; those whose window is over stand apart from those
 * for whom more may come. The measures are defined in docs/measures.md.
 */
export async function workflowResults(
  db: Db,
  asked: Cohort,
): Promise<{ over: CohortResults; open: CohortResults }> {
  return resultsOf(await countEntered(db, asked), await countFacts(db, asked))
}

/** The same, with what the timetable shows at each stop: of those whose window is over, and of all. */
export async function resultsWithNumbers(
  db: Db,
  asked: Cohort,
): Promise<{
  over: CohortResults
  open: CohortResults
  numbers: { over: WorkflowNumbersResponse; all: WorkflowNumbersResponse }
}> {
  const rows = await countFacts(db, asked)
  const ways = await readWays(db, asked)
  return {
    ...resultsOf(await countEntered(db, asked), rows),
    numbers: { over: numbersIn(rows, ways, false), all: numbersIn(rows, ways, true) },
  }
}

const enteredRow = z.object({ isOver: z.boolean(), entered: z.number() })

const countEntered = (db: Db, asked: Cohort) =>
  rowsOf(
    db,
    enteredRow,
    sql`${cohortOf(asked)} select is_over as "isOver", count(*) as entered from cohort group by 1`,
  )

function resultsOf(
  entered: readonly z.infer<typeof enteredRow>[],
  rows: readonly CountedRow[],
): { over: CohortResults; open: CohortResults } {
  const of = (isOver: boolean): CohortResults => {
    const mine = rows.filter((row) => row.isOver === isOver)
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
