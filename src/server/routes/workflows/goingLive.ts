import { z } from 'zod'
import { turnAt } from '../../../backend/intakes/index.ts'
import {
  findShop,
  namesOfCustomers,
  numbersOfOrders,
  readClock,
} from '../../../backend/shop/index.ts'
import { findWorkflow, sentBeside } from '../../../backend/workflows/index.ts'
import {
  beforeLiveResponse,
  qualifyingQuery,
  qualifyingResponse,
} from '../../../contract/goingLive.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { compileProgram } from '../../../core/workflow/compile.ts'
import { getsFirst, whoQualifies } from '../../../drivers/live/qualifying.ts'
import { replay } from '../../../drivers/past/replay.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string() })
const marketer = { preHandler: requireMarketer }
/** So many are named; the rest are counted. */
const SHOWN = 100

/** What there is to know before a workflow goes live. */
export function goingLiveRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/workflows/:id/before-live',
    { schema: { params, response: { 200: beforeLiveResponse } }, ...marketer },
    async ({ user: { shopId }, params: { id } }, reply) => {
      const { workflow } = await findWorkflow(db, shopId, id)
      return reading.run(askerOf(reply), async (tx, turn) => {
        const past = await replay(tx, shopId, workflow.draft, turn)
        if (!past) return { past: null }
        const { now } = await readClock(tx, shopId)
        const lives = past.lives.filter(({ runs }) => runs.length > 0)
        const { oneIn } = past
        const entries = lives.reduce((sum, { runs }) => sum + runs.length, 0) * oneIn
        const ids = lives.map(({ customerId }) => customerId)
        const beside = await sentBeside(tx, shopId, { workflowId: id, since: past.since, customerIds: ids }) // prettier-ignore
        return {
          past: {
            people: lives.length * oneIn,
            entries,
            perWeek: (entries * 7 * DAY_MS) / (now - past.since),
            oneIn,
            beside: beside.map((one) => ({ ...one, people: one.people * oneIn, messages: one.messages * oneIn })), // prettier-ignore
          },
        }
      })
    },
  )

  app.get(
    '/api/workflows/:id/qualifying',
    { schema: { params, querystring: qualifyingQuery, response: { 200: qualifyingResponse } }, ...marketer }, // prettier-ignore
    async ({ user: { shopId }, params: { id }, query: { days, perHour } }, reply) => {
      const { workflow } = await findWorkflow(db, shopId, id)
      const shop = await findShop(db, shopId)
      const { now } = await readClock(db, shopId)
      const asked = { id, version: 0, program: compileProgram(workflow.draft) }
      return reading.run(askerOf(reply), async (tx) => {
        const { people, turnedAway, hasMore } = await whoQualifies(tx, shop, asked, { days, now })
        const first = people.slice(0, SHOWN)
        const names = await namesOfCustomers(tx, shopId, first.map(({ waiting }) => waiting.customerId)) // prettier-ignore
        const orders = await numbersOfOrders(tx, shopId, first.flatMap(({ waiting }) => waiting.subjectId ?? [])) // prettier-ignore
        return {
          people: people.length,
          hasMore,
          shown: first.map((one, place) => {
            const { customerId, subjectId, occasionAt } = one.waiting
            return {
              customerId,
              name: names.get(customerId)?.name ?? null,
              email: names.get(customerId)?.email ?? null,
              about: orders.get(subjectId ?? '') ?? null,
              occasionAt,
              ...getsFirst(asked, one, turnAt(now, place, perHour)),
            }
          }),
          turnedAway: Object.entries(turnedAway).map(([code, count]) => ({ code, count })),
        }
      })
    },
  )
}
