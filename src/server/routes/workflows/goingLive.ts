import { z } from 'zod'
import { intakesOf, stopIntakes, turnAt } from '../../../backend/intakes/index.ts'
import {
  findShop,
  namesOfCustomers,
  numbersOfOrders,
  readClock,
} from '../../../backend/shop/index.ts'
import { findWorkflow, sentBeside } from '../../../backend/workflows/index.ts'
import {
  beforeLiveResponse,
  intakeResponse,
  letInBody,
  letInResponse,
  qualifyingQuery,
  qualifyingResponse,
  stoppedResponse,
} from '../../../contract/goingLive.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { compileProgram } from '../../../core/workflow/compile.ts'
import { beginLettingIn } from '../../../drivers/live/letIn.ts'
import { Programs } from '../../../drivers/live/programs.ts'
import { getsFirst, whoQualifies } from '../../../drivers/live/qualifying.ts'
import { replay } from '../../../drivers/past/replay.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string() })
const marketer = { preHandler: requireMarketer }
/** So many are named; the rest are counted. */
const SHOWN = 100

/** What there is to know before a workflow goes live, and letting in who qualifies already. */
export function goingLiveRoutes(app: App, { db, reading }: ServerContext): void {
  const programs = new Programs()

  app.get(
    '/api/workflows/:id/before-live',
    { schema: { params, response: { 200: beforeLiveResponse } }, ...marketer },
    async ({ user: { shopId }, params: { id } }, reply) => {
      const { workflow } = await findWorkflow(db, shopId, id)
      return reading.run(askerOf(reply), async (tx) => {
        const past = await replay(tx, shopId, workflow.draft)
        if (!past) return { past: null }
        const { now } = await readClock(tx, shopId)
        const lives = past.lives.filter(({ runs }) => runs.length > 0)
        const entries = lives.reduce((sum, { runs }) => sum + runs.length, 0)
        const ids = lives.map(({ customerId }) => customerId)
        return {
          past: {
            people: lives.length,
            entries,
            perWeek: (entries * 7 * DAY_MS) / (now - past.since),
            beside: await sentBeside(tx, shopId, { workflowId: id, since: past.since, customerIds: ids }), // prettier-ignore
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

  app.post(
    '/api/workflows/:id/let-in',
    { schema: { params, body: letInBody, response: { 200: letInResponse } }, ...marketer },
    async ({ user, params: { id }, body }) => ({
      people: await beginLettingIn(db, programs, user.shopId, id, { ...body, person: user.name }),
    }),
  )

  app.get(
    '/api/workflows/:id/intakes',
    { schema: { params, response: { 200: z.array(intakeResponse) } } },
    ({ user, params: { id } }) => intakesOf(db, user.shopId, id),
  )

  app.post(
    '/api/workflows/:id/intakes/stop',
    { schema: { params, response: { 200: stoppedResponse } }, ...marketer },
    async ({ user, params: { id } }) => {
      const { now } = await readClock(db, user.shopId)
      const stopped = await db.transaction((tx) => stopIntakes(tx, user.shopId, id, now))
      return { stopped }
    },
  )
}
