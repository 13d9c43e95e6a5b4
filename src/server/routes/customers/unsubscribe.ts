import { z } from 'zod'
import {
  findUnsubscriber,
  preferencesOf,
  type Preferences,
  type Unsubscriber,
} from '../../../backend/messages/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop, ingestEvents, readClock, type Shop } from '../../../backend/shop/index.ts'
import { CUSTOMER_CHANNELS } from '../../../core/channels/catalogue.ts'
import { WAYS } from '../../../core/events/ownWord.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import type { App, ServerContext } from '../../context.ts'
import { acceptForms } from '../../forms.ts'
import { limitPerToken } from '../../guards.ts'
import { preferencesPage } from '../../preferencesPage.ts'

const params = z.object({ token: z.string().max(100) })
const formBody = z.looseObject({ 'List-Unsubscribe': z.literal('One-Click') })
/** A box that is not ticked is not in a form. */
const choicesBody = z.object({
  email: z.literal('yes').optional(),
  sms: z.literal('yes').optional(),
})

const NOBODY: Preferences = { email: false, sms: null, hasPhone: false, history: [], state: '' }

/**
 * The way out of marketing mail (RFC 8058): a POST with the agreed body unsubscribes, a GET only
 * shows the page with the choices, since scanners open every link. What people choose comes in as
 * events, which are its history.
 */
export function unsubscribeRoutes(app: App, { db }: ServerContext): void {
  acceptForms(app)
  const config = limitPerToken()

  const found = async (
    token: string,
  ): Promise<{ who: Unsubscriber; shop: Shop; preferences: Preferences }> => {
    const who = await findUnsubscriber(db, token)
    if (!who) throw new AppError('not_found', 'This link is not one of ours.')
    // Somebody who is not there any more gets nothing, which is what the link is for.
    const preferences = (await preferencesOf(db, who)) ?? NOBODY
    return { who, preferences, shop: await findShop(db, who.shopId) }
  }

  /** Of several that are sent at once the first counts: they all rest on the same state. */
  const note = async (
    { shopId, customerId }: Unsubscriber,
    { state }: Preferences,
    consent: { channel: 'email' | 'sms'; given: boolean; how: string },
  ) => {
    const { now } = await readClock(db, shopId)
    const id = `${customerId} ${consent.channel} ${state}`
    const data = { consent: { customerId, ...consent } }
    const event = { specversion: '1.0', id, source: '/preferences', type: 'consent.changed', time: formatInstant(now), data } // prettier-ignore
    await ingestEvents(db, shopId, [event])
  }

  app.get('/u/:token', { schema: { params }, config }, async ({ params: { token } }, reply) => {
    const { shop, preferences } = await found(token)
    return reply
      .type('text/html')
      .header('cache-control', 'no-store')
      .send(preferencesPage(shop, token, preferences))
  })

  app.post(
    '/u/:token',
    { schema: { params, body: formBody }, config },
    async ({ params: { token } }, reply) => {
      const { who, shop, preferences: before } = await found(token)
      if (before.email !== false) {
        await note(who, before, { channel: 'email', given: false, how: WAYS.link })
      }
      const { preferences } = await found(token)
      const done = 'Done. You will get no more news and offers by email.'
      return reply.type('text/html').send(preferencesPage(shop, token, preferences, done))
    },
  )

  app.post(
    '/u/:token/choices',
    { schema: { params, body: choicesBody }, config },
    async ({ params: { token }, body }, reply) => {
      const { who, shop, preferences: before } = await found(token)
      for (const channel of CUSTOMER_CHANNELS) {
        const given = body[channel] === 'yes'
        // Never asked and not ticked is still never asked.
        const isNews = given !== (before[channel] ?? false)
        if (isNews && (channel === 'email' || before.hasPhone)) {
          await note(who, before, { channel, given, how: WAYS.page })
        }
      }
      const { preferences } = await found(token)
      return reply
        .type('text/html')
        .send(preferencesPage(shop, token, preferences, 'Your choices are kept.'))
    },
  )
}
