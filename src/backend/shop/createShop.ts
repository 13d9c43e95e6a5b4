import { z } from 'zod'
import { isZone } from '../../core/shared/time.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { shops } from './tables.ts'

/** What a shop begins with. */
export const newShop = z.object({
  id: z.string().regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'must be of small letters, digits and dashes'),
  name: z.string().trim().min(1).max(80),
  zone: z.string().refine(isZone, 'must be an IANA zone like Europe/Lisbon'),
  currency: z.string().regex(/^[A-Z]{3}$/, 'must be an ISO 4217 code like EUR'),
  locale: z.string().regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'must be a language tag like en-IE'),
  sender: z.email('must be an address like hello@shop.example').max(254),
})
export type NewShop = z.infer<typeof newShop>

/** Makes a shop without people in it. Throws AppError `conflict` where the id is taken. */
export async function createShop(db: Db, { id, name, zone, currency, locale, sender }: NewShop): Promise<void> {
  const added = await db
    .insert(shops)
    .values({ id, name, zone, currency, locale, defaultSenderName: name, defaultSenderAddress: sender.toLowerCase() })
    .onConflictDoNothing()
    .returning({ id: shops.id })
  if (added.length === 0) throw new AppError('conflict', `There is a shop with the id “${id}” already.`)
} // prettier-ignore
