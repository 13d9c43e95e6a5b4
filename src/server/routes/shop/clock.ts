import { AppError } from '../../../backend/platform/errors.ts'
import { readClock, requestClockMove, stopClock } from '../../../backend/shop/index.ts'
import { clockResponse, moveClockBody } from '../../../contract/session.ts'
import { nextDue } from '../../../drivers/live/moveClock.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** The shop clock: reading it and, where it is moved by hand, moving it. */
export function clockRoutes(app: App, { db }: ServerContext): void {
  const schema = { response: { 200: clockResponse } }
  const marketer = { preHandler: requireMarketer }

  app.get('/api/clock', { schema }, ({ user }) => readClock(db, user.shopId))

  app.post(
    '/api/clock',
    { schema: { ...schema, body: moveClockBody }, ...marketer },
    async (request) => {
      const { shopId } = request.user
      const { now } = await readClock(db, shopId)
      const target = 'target' in request.body ? request.body.target : await nextDue(db, shopId, now)
      if (target === null) throw new AppError('conflict', 'Nobody is waiting for anything.')
      await requestClockMove(db, shopId, target)
      return readClock(db, shopId)
    },
  )

  app.delete('/api/clock/target', { schema, ...marketer }, async ({ user }) => {
    await stopClock(db, user.shopId)
    return readClock(db, user.shopId)
  })
}
