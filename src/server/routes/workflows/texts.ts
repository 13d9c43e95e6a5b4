import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import { customersWithMobile, messageOf } from '../../../backend/messages/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { ingestEvents, readClock, readPhone } from '../../../backend/shop/index.ts'
import { WAYS } from '../../../core/events/ownWord.ts'
import { readOptOut } from '../../../core/messages/optOut.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireKey } from '../../guards.ts'

const incomingBody = z.object({ from: z.string().max(40), text: z.string().max(2000) })
const incomingResponse = z.object({
  /** What the answer was taken for; null for words that say nothing of messages to come. */
  understood: z.enum(['stop', 'start']).nullable(),
  people: z.int(),
})
const reportBody = z.object({
  /** The id the message was handed over with. */
  id: z.string().min(1).max(300),
  status: z.enum(['delivered', 'failed']),
})
const reportResponse = z.object({ event: z.string() })

/**
 * What the gateway of text messages tells: answers of people, of which "STOP" and its like are acted
 * on, and what became of messages. Both come in as events like any other.
 */
export function textRoutes(app: App, context: ServerContext): void {
  const { db } = context
  const onRequest = requireKey(context)
  const take = async (shopId: string, type: string, datas: object[]) => {
    const { now } = await readClock(db, shopId)
    const events = datas.map((data) => ({ specversion: '1.0', id: randomUUID(), source: '/texts', type, time: formatInstant(now), data })) // prettier-ignore
    await ingestEvents(db, shopId, events)
  }

  app.post(
    '/v1/texts/incoming',
    { schema: { body: incomingBody, response: { 200: incomingResponse } }, onRequest },
    async ({ keyShopId: shopId, body: { from, text } }) => {
      const number = readPhone(from, null)?.number
      if (number === undefined) {
        throw new AppError('bad_input', 'That is no phone number.', [{ path: 'from', message: 'must be a number like +351912345678' }]) // prettier-ignore
      }
      const understood = readOptOut(text)
      // A phone that several people have told of is one phone.
      const people = understood ? await customersWithMobile(db, shopId, number) : []
      const consents = people.map((customerId) => ({ consent: { customerId, channel: 'sms', given: understood === 'start', how: WAYS.text } })) // prettier-ignore
      if (consents.length > 0) await take(shopId, 'consent.changed', consents)
      return { understood, people: people.length }
    },
  )

  app.post(
    '/v1/texts/reports',
    { schema: { body: reportBody, response: { 200: reportResponse } }, onRequest },
    async ({ keyShopId: shopId, body: { id, status } }) => {
      const customerId = await messageOf(db, shopId, id)
      if (customerId === null) throw new AppError('not_found', 'There is no such message.')
      // A text that did not arrive says nothing of the address mails go to.
      const type = status === 'delivered' ? 'message.delivered' : 'message.bounced'
      const failed = status === 'failed' ? { permanent: false } : {}
      await take(shopId, type, [{ message: { customerId, id, ...failed } }])
      return { event: type }
    },
  )
}
