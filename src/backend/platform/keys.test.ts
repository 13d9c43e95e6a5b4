import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { z } from 'zod'
import { makeWorld, type World } from '../../testing/world.ts'
import { rowsOf } from './db.ts'

let world: World
beforeAll(async () => {
  world = await makeWorld()
})
afterAll(() => world.close())

/** What belongs to the installation, or to a person whatever shop they work in; and the shops themselves. */
const OF_NO_SHOP = new Set([
  'shops', 'accounts', 'sessions', 'account_links', 'sign_in_tries', 'passkeys', 'passkey_challenges', 'installation_notes', 'workers',
]) // prettier-ignore
/**
 * Looked up before anybody knows the shop, by what came with a request and nobody can guess. Over several databases
 * one after the other is asked.
 */
const OF_NO_SHOP_YET = new Set(['api_keys_hash', 'files_id_unique', 'short_links_pkey', 'ways_out_pkey', 'connections_token_hash_unique']) // prettier-ignore

test('every key and every unique rule has the shop in it, so that shops can live in several databases', async () => {
  const rows = await rowsOf(world.db, z.object({ table: z.string(), index: z.string(), columns: z.string() }), sql`
    select t.relname as table, c.relname as index, pg_get_indexdef(i.indexrelid) as columns
    from pg_index i join pg_class c on c.oid = i.indexrelid join pg_class t on t.oid = i.indrelid
    join pg_namespace n on n.oid = t.relnamespace
    where n.nspname = 'public' and i.indisunique`) // prettier-ignore
  expect(rows.length).toBeGreaterThan(50)
  const without = rows.filter(({ table, columns }) => !OF_NO_SHOP.has(table) && !columns.includes('(shop_id')) // prettier-ignore
  // None that is excused for what it does not do.
  const tables = new Set(
    rows.filter(({ columns }) => !columns.includes('(shop_id')).map(({ table }) => table),
  )
  expect([...OF_NO_SHOP].filter((table) => !tables.has(table))).toEqual([])
  expect(without.filter(({ index }) => !OF_NO_SHOP_YET.has(index))).toEqual([])
})
