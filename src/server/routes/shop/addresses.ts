import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import {
  addressBook,
  addSender,
  confirmSender,
  readSenderToken,
  removeGroup,
  removeSender,
  saveGroup,
  senderToken,
} from '../../../backend/addresses/index.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import { linkSecretsOf } from '../../../backend/platform/config.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { addressBookResponse, groupBody, newSenderBody } from '../../../contract/addresses.ts'
import { keySchema } from '../../../core/shared/key.ts'
import type { App, ServerContext } from '../../context.ts'
import { acceptForms } from '../../forms.ts'
import { limitPerToken, requireMarketer } from '../../guards.ts'
import { shopPage } from '../../shopPage.ts'

const tokenParams = z.object({ token: z.string().max(1000) })

/** From whom messages may come, and the groups of staff; for everybody who is signed in. */
export function addressRoutes(
  app: App,
  { db, config, publicUrl }: ServerContext,
  mailer: Mailer,
): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/addresses',
    { schema: { response: { 200: addressBookResponse } } },
    async ({ user }) => {
      const { senders, groups, postalAddress } = await addressBook(db, user.shopId)
      return {
        postalAddress,
        senders: [...senders],
        groups: groups.map((group) => ({ ...group, addresses: [...group.addresses] })),
      }
    },
  )

  app.post(
    '/api/senders',
    {
      schema: { body: newSenderBody },
      ...marketer,
      config: { rateLimit: { max: 20, timeWindow: '1 minute' } },
    },
    async ({ user: { shopId }, body }, reply) => {
      const token = senderToken(config.LINK_SECRET, { shopId, address: body.address })
      await addSender(db, await findShop(db, shopId), body, {
        mailer,
        url: `${publicUrl}/confirm-sender/${token}`,
        messageId: `<sender.${randomUUID()}@yomble.invalid>`,
      })
      return reply.status(204).send()
    },
  )

  app.delete(
    '/api/senders/:address',
    { schema: { params: z.object({ address: z.string().max(254) }) }, ...marketer },
    async ({ user, params: { address } }, reply) => {
      await removeSender(db, user.shopId, address)
      return reply.status(204).send()
    },
  )

  app.put(
    '/api/staff-groups/:key',
    { schema: { params: z.object({ key: keySchema }), body: groupBody }, ...marketer },
    async ({ user, params: { key }, body }, reply) => {
      await saveGroup(db, user.shopId, { key, ...body })
      return reply.status(204).send()
    },
  )

  app.delete(
    '/api/staff-groups/:key',
    { schema: { params: z.object({ key: keySchema }) }, ...marketer },
    async ({ user, params: { key } }, reply) => {
      await removeGroup(db, user.shopId, key)
      return reply.status(204).send()
    },
  )
}

/** Where whoever reads a sender's mail confirms it. A GET only asks, since scanners open every link. */
export function confirmSenderRoutes(app: App, { db, config }: ServerContext): void {
  acceptForms(app)
  const asked = async (token: string) => {
    const sender = readSenderToken(linkSecretsOf(config), token)
    if (!sender) throw new AppError('not_found', 'This link is not one of ours.')
    return { sender, shop: await findShop(db, sender.shopId) }
  }

  app.get(
    '/confirm-sender/:token',
    { schema: { params: tokenParams }, config: limitPerToken(30) },
    async ({ params: { token } }, reply) => {
      const { sender, shop } = await asked(token)
      const html = shopPage(shop, {
        text: `Messages of ${shop.name} to customers may come from ${sender.address}.`,
        button: { action: `/confirm-sender/${encodeURIComponent(token)}`, label: 'That is right' },
      })
      return reply.type('text/html').send(html)
    },
  )

  app.post(
    '/confirm-sender/:token',
    { schema: { params: tokenParams }, config: limitPerToken(30) },
    async ({ params: { token } }, reply) => {
      const { sender, shop } = await asked(token)
      const isKnown = await confirmSender(db, sender.shopId, sender.address)
      if (!isKnown) {
        throw new AppError('not_found', 'Nobody asks for this any more. There is nothing to do.')
      }
      const text = `Thank you. ${sender.address} is confirmed.`
      return reply.type('text/html').send(shopPage(shop, { text }))
    },
  )
}
