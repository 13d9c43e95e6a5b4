import type { FastifyReply } from 'fastify'
import { z } from 'zod'
import {
  findFollowed,
  findShortLink,
  findTarget,
  readFollowToken,
  type Followed,
} from '../../../backend/messages/index.ts'
import { linkSecretsOf } from '../../../backend/platform/config.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { ingestEvents, readClock } from '../../../backend/shop/index.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import type { App, ServerContext } from '../../context.ts'
import { limitPerToken } from '../../guards.ts'

const params = z.object({ token: z.string().max(500) })

/** A picture of one point that nothing is seen of (GIF89a). */
const POINT = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64')

const perToken = limitPerToken()
const unknownLink = () => new AppError('not_found', 'This link is not one of ours.')

type Followable = 'message.clicked' | 'message.opened'

/**
 * Links and pictures of messages. However often one is asked for, it counts once a day: programs that
 * look at mail ask again and again, and so does somebody whose page does not load. A link leads only to what stood in a message of ours, and what was clicked or opened comes in as an
 * event like any other. A HEAD is no click: programs ask it.
 */
export function followRoutes(app: App, { db, config }: ServerContext): void {
  const tell = async (type: Followable, token: string, about: Followed) => {
    // Whoever clicks is led on even if that cannot be noted; the log says so.
    await note(type, token, about).catch((error: unknown) =>
      app.log.error(error, 'a click was not noted'),
    )
  }
  const note = async (type: Followable, token: string, about: Followed) => {
    const message = await findFollowed(db, about)
    if (!message) return
    const { now } = await readClock(db, about.shopId)
    const id = `${token}-${Math.floor(now / DAY_MS)}`
    const event = { specversion: '1.0', id, source: '/links', type, time: formatInstant(now), data: { message } } // prettier-ignore
    await ingestEvents(db, about.shopId, [event])
  }
  const lead = (reply: FastifyReply, url: string) =>
    reply.header('cache-control', 'no-store').header('referrer-policy', 'no-referrer').redirect(url)

  app.get(
    '/l/:token',
    { schema: { params }, config: perToken },
    async ({ method, params: { token } }, reply) => {
      const about = readFollowToken(linkSecretsOf(config), token)
      const url = about?.target ? await findTarget(db, about.shopId, about.target) : null
      if (!about || url === null) throw unknownLink()
      if (method !== 'HEAD') await tell('message.clicked', token, about)
      return lead(reply, url)
    },
  )

  app.get(
    '/s/:token',
    { schema: { params }, config: perToken },
    async ({ method, params: { token } }, reply) => {
      const found = await findShortLink(db, token)
      if (!found) throw unknownLink()
      if (method !== 'HEAD') await tell('message.clicked', token, found)
      return lead(reply, found.url)
    },
  )

  app.get(
    '/o/:token',
    { schema: { params }, config: perToken },
    async ({ method, params: { token } }, reply) => {
      const about = readFollowToken(linkSecretsOf(config), token)
      if (about?.target === null && method !== 'HEAD') await tell('message.opened', token, about)
      return reply
        .type('image/gif')
        .header('cache-control', 'no-store')
        .header('cross-origin-resource-policy', 'cross-origin')
        .send(POINT)
    },
  )
}
