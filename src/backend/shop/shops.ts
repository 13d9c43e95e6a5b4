import { eq, sql } from 'drizzle-orm'
import type { MessageCap, ShopFacts } from '../../core/events/facts.ts'
import { plainBrand, type Brand } from '../../core/messages/brand.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { currentHoldout } from './holdouts.ts'
import { shops } from './tables.ts'

export interface Shop extends ShopFacts {
  id: string
  defaultSender: { name: string; address: string }
  /** What its designed messages have in common. */
  brand: Brand
  /** Which of its built-in notices a workflow has taken over. */
  notices: Readonly<Record<string, string>>
  /** Signs hooks; null until the first one is sent. */
  hookSecret: string | null
  /** Nobody puts a workflow live alone. */
  secondPerson: boolean
  /** What only owners may do takes one who has signed in with more than a password. */
  strongOwners: boolean
}

/** A shop's own data. Throws AppError `not_found`. */
export async function findShop(db: Db, shopId: string): Promise<Shop> {
  const [row] = await db.select().from(shops).where(eq(shops.id, shopId))
  if (!row) throw new AppError('not_found', 'There is no such shop.')
  const { id, name, zone, currency, locale, messageGap, quietFrom, quietTo, hookSecret } = row
  const quietHours =
    quietFrom === null || quietTo === null ? null : { from: quietFrom, to: quietTo }
  const defaultSender = { name: row.defaultSenderName, address: row.defaultSenderAddress }
  return {
    id,
    name,
    zone,
    currency,
    locale,
    messageGap,
    caps: row.caps,
    quietHours,
    holdout: currentHoldout(row.holdouts),
    defaultSender,
    backOfficeUrl: row.backOfficeUrl,
    orderPageUrl: row.orderPageUrl,
    notices: row.notices,
    brand: row.brand ?? plainBrand(name),
    hookSecret,
    secondPerson: row.secondPerson,
    strongOwners: row.strongOwners,
  }
}

/** Throws ShopMovesError for a shop that is being moved to another cell: what is to be done for it waits until it is there. */
export async function refuseMoving(db: Db, shopId: string): Promise<void> {
  const [row] = await db
    .select({ movingSince: shops.movingSince })
    .from(shops)
    .where(eq(shops.id, shopId))
  if (row && row.movingSince !== null) throw new ShopMovesError(`The shop ${shopId} is being moved`)
}

/** A shop is on its way to another cell. */
export class ShopMovesError extends Error {}

/** The ids of all shops this installation serves. */
export async function shopIds(db: Db): Promise<string[]> {
  const rows = await db.select({ id: shops.id }).from(shops)
  return rows.map((row) => row.id)
}

/** What is set of a shop itself. */
export interface ShopFactsOf {
  name: string
  zone: string
  locale: string
  senderName: string
  senderAddress: string
  secondPerson: boolean
  strongOwners: boolean
}

/** Changes what is set of a shop itself. */
export async function saveShopFacts(db: Db, shopId: string, facts: ShopFactsOf): Promise<void> {
  const { name, zone, locale, senderName, senderAddress, secondPerson, strongOwners } = facts
  const set = { name, zone, locale, defaultSenderName: senderName, defaultSenderAddress: senderAddress, secondPerson, strongOwners } // prettier-ignore
  await db.update(shops).set(set).where(eq(shops.id, shopId))
}

/** Sets what the shop's designed messages have in common. */
export async function saveBrand(db: Db, shopId: string, brand: Brand): Promise<void> {
  await db.update(shops).set({ brand }).where(eq(shops.id, shopId))
}

/** Says which workflow sends one of the shop's built-in notices; null for the shop itself. */
export async function saveNotice(
  db: Db,
  shopId: string,
  key: string,
  takenBy: string | null,
): Promise<void> {
  const notices =
    takenBy === null
      ? sql`${shops.notices} - ${key}::text`
      : sql`${shops.notices} || jsonb_build_object(${key}::text, ${takenBy}::text)`
  await db.update(shops).set({ notices }).where(eq(shops.id, shopId))
}

/** Sets the message gap, the caps, the quiet hours and where staff and customers look at orders; null for none. */
export async function saveShopRules(
  db: Db,
  shopId: string,
  {
    messageGap,
    caps,
    quietHours,
    backOfficeUrl,
    orderPageUrl,
  }: Pick<ShopFacts, 'messageGap' | 'quietHours'> & {
    /** Left out: as it is. */
    caps?: MessageCap[] | undefined
    backOfficeUrl?: string | null | undefined
    orderPageUrl?: string | null | undefined
  },
): Promise<void> {
  await db
    .update(shops)
    .set({
      messageGap,
      caps,
      quietFrom: quietHours?.from ?? null,
      quietTo: quietHours?.to ?? null,
      backOfficeUrl,
      orderPageUrl,
    })
    .where(eq(shops.id, shopId))
}
