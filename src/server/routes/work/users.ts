import { z } from 'zod'
import {
  addUser,
  changeRole,
  listUsers,
  makeLink,
  removeUser,
  type User,
} from '../../../backend/accounts/index.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { inviteBody, roleBody, usersResponse } from '../../../contract/accounts.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer, requireOwner } from '../../guards.ts'
import { sendAccountMail } from '../../accountMail.ts'

const params = z.object({ id: z.string().max(100) })

/** Who works in the shop, and what they may do: owners say so. */
export function userRoutes(app: App, { db, publicUrl }: ServerContext, mailer: Mailer): void {
  const owner = { preHandler: requireOwner }
  const limited = { config: { rateLimit: { max: 20, timeWindow: '1 minute' } } }

  const invite = async (shopId: string, user: User) => {
    if (!user.isInvited) {
      await sendAccountMail(mailer, await findShop(db, shopId), { kind: 'added', to: user.email, url: publicUrl })
      return
    }
    const token = await makeLink(db, { shopId, userId: user.id, kind: 'invitation' })
    const shop = await findShop(db, shopId)
    await sendAccountMail(mailer, shop, { kind: 'invitation', to: user.email, url: `${publicUrl}/password/${token}` })
  }

  app.get(
    '/api/users',
    { schema: { response: { 200: usersResponse } }, preHandler: requireMarketer },
    ({ user }) => listUsers(db, user.shopId),
  )

  app.post('/api/users', { schema: { body: inviteBody }, ...owner, ...limited }, async ({ user, body }, reply) => {
    const added = await addUser(db, user.shopId, body)
    await invite(user.shopId, added)
    return reply.status(204).send()
  })

  app.post('/api/users/:id/invitation', { schema: { params }, ...owner, ...limited }, async ({ user, params: { id } }, reply) => {
    const found = (await listUsers(db, user.shopId)).find((one) => one.id === id && one.isInvited)
    if (!found) throw new AppError('not_found', 'Nobody waits for that invitation.')
    await invite(user.shopId, found)
    return reply.status(204).send()
  })

  app.put('/api/users/:id/role', { schema: { params, body: roleBody }, ...owner }, async ({ user, params: { id }, body }, reply) => {
    await changeRole(db, user.shopId, id, body.role)
    return reply.status(204).send()
  })

  app.delete('/api/users/:id', { schema: { params }, ...owner }, async ({ user, params: { id } }, reply) => {
    await removeUser(db, user.shopId, id)
    return reply.status(204).send()
  })
} // prettier-ignore
