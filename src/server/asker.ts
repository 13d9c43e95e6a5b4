import type { FastifyReply } from 'fastify'
import type { SignedIn } from '../backend/accounts/index.ts'
import type { Asker } from '../backend/platform/reading.ts'

/** The browser that waits for a reply; it has gone when its connection ends before the answer does. */
export function askerOf(reply: FastifyReply): Asker {
  const user = reply.request.user as SignedIn | undefined
  return {
    ...(user && { shopId: user.shopId }),
    onGone: (callback) => {
      reply.raw.once('close', () => {
        if (!reply.raw.writableFinished) callback()
      })
    },
  }
}
