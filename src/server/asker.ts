import type { FastifyReply } from 'fastify'
import type { Asker } from '../backend/platform/reading.ts'

/** The browser that waits for a reply; it has gone when its connection ends before the answer does. */
export function askerOf(reply: FastifyReply): Asker {
  return {
    onGone: (callback) => {
      reply.raw.once('close', () => {
        if (!reply.raw.writableFinished) callback()
      })
    },
  }
}
