import { z } from 'zod'
import { calendarToken, shopCalendar, shopOfCalendar } from '../../../backend/overview/index.ts'
import { linkSecretsOf } from '../../../backend/platform/config.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { limitPerToken, requireMarketer } from '../../guards.ts'

const params = z.object({ token: z.string().max(300) })

/** What is to come, for calendar programs, which cannot sign in: at an address that nobody can guess. */
export function calendarRoutes(app: App, { db, reading, config }: ServerContext): void {
  app.get(
    '/v1/calendar/:token',
    { schema: { params }, config: limitPerToken(30) },
    async ({ params: { token } }, reply) => {
      const shopId = shopOfCalendar(linkSecretsOf(config), token)
      if (shopId === null) throw new AppError('not_found', 'There is no calendar at this address.')
      const shop = await findShop(db, shopId)
      const text = await reading.runAndKeep(askerOf(reply), (tx) => shopCalendar(tx, shop))
      return reply.type('text/calendar; charset=utf-8').send(text)
    },
  )
}

/** Where that is. */
export function calendarAddressRoutes(app: App, { publicUrl, config }: ServerContext): void {
  app.get(
    '/api/calendar',
    {
      schema: { response: { 200: z.object({ address: z.string() }) } },
      preHandler: requireMarketer,
    },
    ({ user }) => ({
      address: `${publicUrl}/v1/calendar/${calendarToken(config.LINK_SECRET, user.shopId)}`,
    }),
  )
}
