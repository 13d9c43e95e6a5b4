import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { firstStepsResponse, type FirstSteps } from '../../contract/beginning.ts'
import { plainBrand } from '../../core/messages/brand.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { secretName } from '../platform/signed.ts'
import { createShop, type NewShop } from './createShop.ts'
import { saveBrand } from './shops.ts'

/** The secret part of the address at which the first shop is made. It is good for as long as there is none. */
export const beginningToken = (secret: string): string => secretName(secret, 'beginning', [])

/** Whether there is no shop yet. */
export async function isEmpty(db: Db): Promise<boolean> {
  const rows = await rowsOf(db, z.object({ id: z.string() }), sql`select id from shops limit 1`)
  return rows.length === 0
}

/** Makes the first shop of an installation. Throws AppError `conflict` where there is one. */
export async function createFirstShop(
  tx: Db,
  shop: NewShop & { postalAddress: string },
): Promise<void> {
  // Two who begin at once take turns, and the second is refused.
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended('the first shop', 0))`)
  if (!(await isEmpty(tx))) throw new AppError('conflict', 'There is a shop here already. Sign in, or have its owner invite you.') // prettier-ignore
  await createShop(tx, shop)
  await saveBrand(tx, shop.id, { ...plainBrand(shop.name), postalAddress: shop.postalAddress })
}

/** How far a shop has come on its way to its first message. */
export async function firstSteps(db: Db, shopId: string): Promise<FirstSteps> {
  const of = sql`where shop_id = ${shopId}`
  const [row] = await rowsOf(db, firstStepsResponse, sql`
    select coalesce(brand->>'postalAddress', '') <> '' as "hasPostalAddress",
      coalesce(brand->'logo', 'null') <> 'null' as "hasLogo",
      exists (select from api_keys ${of} and revoked_at is null) or exists (select from connections ${of}) as "hasKeyOrConnection",
      exists (select from events ${of}) as "hasEvents",
      exists (select from workflows ${of}) as "hasWorkflow",
      exists (select from workflow_versions ${of}) as "isLive",
      exists (select from messages ${of} and status = 'sent') as "hasSent"
    from shops where id = ${shopId}`) // prettier-ignore
  if (!row) throw new AppError('not_found', 'There is no such shop.')
  return row
}
