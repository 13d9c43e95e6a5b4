import { stringify } from 'csv-stringify/sync'
import { z } from 'zod'
import { forgetChanged } from '../../../backend/changes/index.ts'
import type { Database } from '../../../backend/platform/db.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import {
  countRolledUp,
  daysHolding,
  findWorkflow,
  listVersions,
  messageDetail,
  peopleBehind,
  resultsWithNumbers,
  workflowResults,
  type CountsOf,
} from '../../../backend/workflows/index.ts'
import { findShop, readClock } from '../../../backend/shop/index.ts'
import {
  messageDetail as messageDetailResponse,
  messageQuery,
  peopleQuery,
  peopleResponse,
  resultsQuery,
  resultsResponse,
  type ResultsQuery,
} from '../../../contract/results.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { resultRows } from '../../resultRows.ts'

const params = z.object({ id: z.string() })
/** More people than this are not listed at once. */
const MOST_PEOPLE = 200

/** Whose results are meant by a query. */
async function cohortFor(db: Database, shopId: string, workflowId: string, query: ResultsQuery) {
  await findWorkflow(db, shopId, workflowId)
  const { now } = await readClock(db, shopId)
  const { days, windowDays, version, wayStep, wayBranch } = query
  // Up to now and what happens in this very moment.
  const to = query.to ?? now + 1
  const from = query.from ?? to - days * DAY_MS
  if (from >= to) {
    const problem = { path: 'from', message: 'must be earlier than to' }
    throw new AppError('bad_input', 'This is no time that anybody can have entered in.', [problem])
  }
  const way = wayStep === undefined ? undefined : { step: wayStep, branch: wayBranch ?? null }
  return { shopId, workflowId, from, to, windowDays, now, version, way }
}

/** Counts a cohort from what is kept of its days, once what has changed is forgotten. */
async function rolledUp(db: Database, shopId: string): Promise<CountsOf> {
  const { zone } = await findShop(db, shopId)
  await forgetChanged(db, shopId)
  return (tx, asked) => countRolledUp(tx, zone, asked)
}

/** What came of a workflow, the people behind each figure, and all of it as a table for elsewhere. */
export function resultRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/workflows/:id/results',
    { schema: { params, querystring: resultsQuery, response: { 200: resultsResponse } } },
    async ({ user: { shopId }, params: { id }, query }, reply) => {
      const cohort = await cohortFor(db, shopId, id, query)
      const { from, to, windowDays } = cohort
      const earlier = { ...cohort, from: from - (to - from), to: from }
      const countsOf = await rolledUp(db, shopId)
      const asker = askerOf(reply)
      // The time before is counted beside it, not after it.
      const [results, before] = await Promise.all([
        reading.runAndKeep(asker, async (tx) => ({
          ...(await resultsWithNumbers(tx, cohort, countsOf)),
          versions: (await listVersions(tx, shopId, id)).map(({ version }) => version),
        })),
        query.before
          ? reading.runAndKeep(asker, async (tx) => overOf(await resultsWithNumbers(tx, earlier, countsOf))) // prettier-ignore
          : null,
      ])
      return { from, to, windowDays, ...results, before }
    },
  )

  app.get(
    '/api/workflows/:id/results/people',
    { schema: { params, querystring: peopleQuery, response: { 200: peopleResponse } } },
    async ({ user: { shopId }, params: { id }, query }, reply) => {
      const cohort = await cohortFor(db, shopId, id, query)
      const behind = { ...query, most: MOST_PEOPLE + 1 }
      const { zone } = await findShop(db, shopId)
      await forgetChanged(db, shopId)
      const people = await reading.run(askerOf(reply), async (tx) => {
        const spans = await daysHolding(tx, zone, cohort, behind)
        return peopleBehind(tx, { ...cohort, spans }, behind)
      })
      return { people: people.slice(0, MOST_PEOPLE), hasMore: people.length > MOST_PEOPLE }
    },
  )

  app.get(
    '/api/workflows/:id/results/message',
    { schema: { params, querystring: messageQuery, response: { 200: messageDetailResponse } } },
    async ({ user: { shopId }, params: { id }, query }, reply) => {
      const cohort = await cohortFor(db, shopId, id, query)
      return reading.run(askerOf(reply), (tx) =>
        messageDetail(tx, cohort, query.step, query.isWithOpen),
      )
    },
  )

  app.get(
    '/api/workflows/:id/results.csv',
    { schema: { params, querystring: resultsQuery } },
    async ({ user: { shopId }, params: { id }, query }, reply) => {
      const cohort = await cohortFor(db, shopId, id, query)
      const { workflow } = await findWorkflow(db, shopId, id)
      const countsOf = await rolledUp(db, shopId)
      const { over, open } = await reading.runAndKeep(askerOf(reply), (tx) => workflowResults(tx, cohort, countsOf)) // prettier-ignore
      const rows = resultRows({ over, open }, workflow.draft, cohort)
      return reply
        .type('text/csv; charset=utf-8')
        .header('content-disposition', `attachment; filename="results-${id}.csv"`)
        .send(stringify(rows, { header: true, escape_formulas: true }))
    },
  )
}

/** Those whose window is over. */
const overOf = ({ over, through }: Awaited<ReturnType<typeof resultsWithNumbers>>) => ({
  ...over,
  through: through.over,
})
