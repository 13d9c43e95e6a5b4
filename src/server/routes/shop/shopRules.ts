import { findSegment, labelMany } from '../../../backend/people/index.ts'
import type { Database } from '../../../backend/platform/db.ts'
import { findShop, readClock, saveHoldout, saveShopRules } from '../../../backend/shop/index.ts'
import { shopRules, shopRulesResponse, type ShopRules } from '../../../contract/shopRules.ts'
import { dateIn } from '../../../core/shared/localTime.ts'
import { localTime } from '../../../core/shared/time.ts'
import { idsWhere } from '../../../drivers/people/peopleWhere.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** Message gap, quiet hours, the holdout and the signing secret of hooks. */
export function shopRulesRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/shop-rules',
    { schema: { response: { 200: shopRulesResponse } }, ...marketer },
    async ({ user }) => {
      const shop = await findShop(db, user.shopId)
      const { percent = null, since = null, list } = shop.holdout ?? {}
      const holdoutAmong = list === undefined ? null : { list }
      return { ...shop, holdoutPercent: percent, holdoutSince: since, holdoutAmong }
    },
  )

  app.put(
    '/api/shop-rules',
    { schema: { body: shopRules }, ...marketer },
    async ({ user, body }, reply) => {
      await saveShopRules(db, user.shopId, body)
      const { holdoutPercent: percent, holdoutAmong: among } = body
      if (percent === null) await saveHoldout(db, user.shopId, null)
      if (typeof percent === 'number') {
        const list = await listAmong(db, user, among)
        await saveHoldout(db, user.shopId, { percent, ...(list !== undefined && { list }) })
      }
      return reply.status(204).send()
    },
  )
}

/** The list among which people are held out. Who is in a segment now is put on one: who comes into it later was never drawn. */
async function listAmong(
  db: Database,
  { shopId, name: person }: { shopId: string; name: string },
  among: ShopRules['holdoutAmong'],
): Promise<string | undefined> {
  const shop = await findShop(db, shopId)
  if (among === undefined) return shop.holdout?.list
  if (among === null) return undefined
  if ('list' in among) return among.list
  const { name: segment, condition } = await findSegment(db, shopId, among.segment)
  const { now } = await readClock(db, shopId)
  const { hour, minute } = localTime(now, shop.zone)
  // To the minute: drawn among anew on the same day, it is another list, and another draw.
  const name = `${segment}, ${dateIn(now, shop.zone)} ${two(hour)}:${two(minute)}`
  const names = await idsWhere(db, shop, { search: '', condition })
  await labelMany(db, shopId, { names, label: { did: 'list', name, change: 'add' }, person })
  return name
}

const two = (value: number): string => String(value).padStart(2, '0')
