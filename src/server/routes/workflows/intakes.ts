import { z } from 'zod'
import { intakesOf, stopIntakes } from '../../../backend/intakes/index.ts'
import { findSegment } from '../../../backend/people/index.ts'
import { findShop, readClock } from '../../../backend/shop/index.ts'
import { intakeResponse, letInBody, letInResponse, putInBody, stoppedResponse } from '../../../contract/goingLive.ts' // prettier-ignore
import { beginLettingIn, beginPuttingIn } from '../../../drivers/live/letIn.ts'
import { Programs } from '../../../drivers/live/programs.ts'
import { idsWhere } from '../../../drivers/people/peopleWhere.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string() })
const marketer = { preHandler: requireMarketer }

/** Letting people in, so many an hour: those who qualify already, or everybody in a segment. */
export function intakeRoutes(app: App, { db, reading }: ServerContext): void {
  const programs = new Programs()

  app.post(
    '/api/workflows/:id/let-in',
    { schema: { params, body: letInBody, response: { 200: letInResponse } }, ...marketer },
    async ({ user, params: { id }, body }) => ({
      people: await beginLettingIn(db, programs, user.shopId, id, { ...body, person: user.name }),
    }),
  )

  app.post(
    '/api/workflows/:id/put-in',
    { schema: { params, body: putInBody, response: { 200: letInResponse } }, ...marketer },
    async ({ user, params: { id }, body: { segment, perHour } }, reply) => {
      const shop = await findShop(db, user.shopId)
      const { condition } = await findSegment(db, shop.id, segment)
      const customerIds = await reading.run(askerOf(reply), (tx) => idsWhere(tx, shop, { search: '', condition })) // prettier-ignore
      return { people: await beginPuttingIn(db, programs, shop.id, id, { customerIds, perHour, person: user.name }) } // prettier-ignore
    },
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
