import { z } from 'zod'
import { findMail, mailPage, rawMail } from '../../../backend/mailbox/index.ts'
import { ledgerPage, runPage } from '../../../backend/runs/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import {
  ledgerQuery,
  ledgerResponse,
  mailResponse,
  mailsQuery,
  mailsResponse,
  runComing,
  runResponse,
} from '../../../contract/activity.ts'
import { runComing as runStillToCome } from '../../../drivers/live/coming.ts'
import { Programs } from '../../../drivers/live/programs.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'

const params = z.object({ id: z.coerce.number().int().positive() })

/** What happened: the ledger, one run, and the mailbox. */
export function activityRoutes(app: App, { db, reading }: ServerContext): void {
  const programs = new Programs()

  app.get(
    '/api/ledger',
    { schema: { querystring: ledgerQuery, response: { 200: ledgerResponse } } },
    async ({ user, query }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), (tx) => ledgerPage(tx, shop, query))
    },
  )

  app.get(
    '/api/runs/:id',
    { schema: { params, response: { 200: runResponse } } },
    async ({ user, params: { id } }) => runPage(db, await findShop(db, user.shopId), id),
  )

  app.get(
    '/api/runs/:id/coming',
    { schema: { params, response: { 200: runComing } } },
    async ({ user, params: { id } }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), (tx) => runStillToCome(tx, programs, shop, id))
    },
  )

  app.get(
    '/api/mails',
    { schema: { querystring: mailsQuery, response: { 200: mailsResponse } } },
    ({ user, query }, reply) =>
      reading.run(askerOf(reply), (tx) => mailPage(tx, user.shopId, query)),
  )

  app.get(
    '/api/mails/:id',
    { schema: { params, response: { 200: mailResponse } } },
    ({ user, params: { id } }) => findMail(db, user.shopId, id),
  )

  app.get(
    '/api/mails/:id/source',
    { schema: { params } },
    async ({ user, params: { id } }, reply) => {
      const raw = await rawMail(db, user.shopId, id)
      return reply
        .header('content-type', 'message/rfc822')
        .header('content-disposition', `attachment; filename="mail-${id}.eml"`)
        .send(raw)
    },
  )
}
