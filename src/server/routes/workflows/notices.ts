import { z } from 'zod'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop, saveNotice } from '../../../backend/shop/index.ts'
import { listWorkflows } from '../../../backend/workflows/index.ts'
import { noticeBody, noticesResponse, shopNoticesResponse } from '../../../contract/notices.ts'
import { noticeStates, type NoticeState } from '../../../core/check/shop/notices.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireKey, requireMarketer } from '../../guards.ts'

const params = z.object({ key: z.string().max(60) })

async function statesOf({ db }: ServerContext, shopId: string): Promise<NoticeState[]> {
  const { notices } = await findShop(db, shopId)
  const rows = await listWorkflows(db, shopId)
  const live = rows.flatMap(({ workflow: { id, state }, live: definition }) =>
    state === 'live' && definition ? [{ id, name: definition.name, definition }] : [],
  )
  return noticeStates(notices, live)
}

/** The notices that a shop has built in, and which of them workflows have taken over. */
export function noticeRoutes(app: App, context: ServerContext): void {
  app.get('/api/notices', { schema: { response: { 200: noticesResponse } } }, ({ user }) =>
    statesOf(context, user.shopId),
  )

  app.put(
    '/api/notices/:key',
    { schema: { params, body: noticeBody }, preHandler: requireMarketer },
    async ({ user, params: { key }, body: { takenBy } }, reply) => {
      const states = await statesOf(context, user.shopId)
      const notice = states.find((one) => one.key === key)
      if (!notice) throw new AppError('not_found', 'There is no such notice.')
      if (takenBy !== null && !notice.candidates.some(({ id }) => id === takenBy)) {
        throw new AppError('bad_input', 'That workflow is not live, or sends no such message.', [{ path: 'takenBy', message: 'must be a live workflow that sends it' }]) // prettier-ignore
      }
      await saveNotice(context.db, user.shopId, key, takenBy)
      return reply.status(204).send()
    },
  )
}

/** The shop's own system asks which of them it is to send. */
export function shopNoticeRoutes(app: App, context: ServerContext): void {
  app.get(
    '/v1/notices',
    { schema: { response: { 200: shopNoticesResponse } }, onRequest: requireKey(context) },
    async ({ keyShopId }) => {
      const states = await statesOf(context, keyShopId)
      const notices = states.map(({ key, takenBy, trouble }) => {
        // One that would be sent by neither is sent by the shop: better its own words than none.
        const isTaken = takenBy !== null && trouble === null
        return { key, sentBy: isTaken ? ('yomble' as const) : ('shop' as const) }
      })
      return { notices }
    },
  )
}
