import { createHash, randomBytes } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { recordsOf, rowsOf, type Db } from '../../platform/db.ts'
import { readToken, signedToken } from '../../platform/signed.ts'

/** Of which message a link or picture is. */
export interface Followed {
  shopId: string
  /** The message's row. */
  message: number
}

/** The signed part of an address that tells of a message, and of where a link leads: nobody else can make one. */
export function followToken(
  secret: string,
  { shopId, message }: Followed,
  target: string | null,
): string {
  return signedToken(secret, 'follow', [shopId, message, target])
}

/** What a token tells of; null for one that was not made here. */
export function readFollowToken(
  secrets: readonly string[],
  token: string,
): (Followed & { target: string | null }) | null {
  const values = readToken(secrets, 'follow', token)
  if (!values) return null
  const [shopId, message, target] = values as [string, number, string | null]
  return { shopId, message, target }
}

/** What a target is called: the same address has the same name. */
export const targetOf = (url: string): string =>
  createHash('sha256').update(url).digest('base64url').slice(0, 22)

/** Keeps where links lead. Nothing else is ever redirected to. */
export async function keepTargets(db: Db, shopId: string, urls: readonly string[]): Promise<void> {
  if (urls.length === 0) return
  const records = [...new Set(urls)].map((url) => ({ id: targetOf(url), url }))
  await db.execute(sql`insert into link_targets (shop_id, id, url)
    select ${shopId}, t.id, t.url from jsonb_to_recordset(${recordsOf(records)}) as t(id text, url text)
    order by t.id
    on conflict do nothing`)
}

/** Where a link leads; null where it was never kept. */
export async function findTarget(db: Db, shopId: string, id: string): Promise<string | null> {
  const [row] = await rowsOf(
    db,
    z.object({
      url: z.string(),
    }),
    sql`select url from link_targets where shop_id = ${shopId} and id = ${id}`,
  )
  return row?.url ?? null
}

/** Keeps a link of a text message under a name as short as cannot be guessed. */
export async function shortLink(
  db: Db,
  { shopId, message }: Followed,
  url: string,
): Promise<string> {
  const id = randomBytes(6).toString('base64url')
  await db.execute(sql`insert into short_links (id, shop_id, message_id, url)
    values (${id}, ${shopId}, ${message}, ${url})`)
  return id
}

/** Of which message a short link is and where it leads; null where there is none. */
export async function findShortLink(
  db: Db,
  id: string,
): Promise<(Followed & { url: string }) | null> {
  const [row] = await rowsOf(
    db,
    z.object({
      shopId: z.string(),
      message: z.number(),
      url: z.string(),
    }),
    sql`select shop_id as "shopId", message_id as message, url from short_links where id = ${id}`,
  )
  return row ?? null
}

/** Who got a message, as events name it; null where there is none. */
export async function findFollowed(
  db: Db,
  { shopId, message }: Followed,
): Promise<{ customerId: string; id: string } | null> {
  const [row] = await rowsOf(
    db,
    z.object({
      customerId: z.string(),
      id: z.string(),
    }),
    sql`select customer_id as "customerId", message_id as id from messages
    where shop_id = ${shopId} and id = ${message}`,
  )
  return row ?? null
}
