import { pipeline } from 'node:stream/promises'
import pg from 'pg'
import { from as copyFrom, to as copyTo } from 'pg-copy-streams'
import type { ShopTable } from './shopTables.ts'

/** Connections to the two cells: rows go from one to the other as they come. */
export interface Ends {
  from: pg.ClientBase
  to: pg.ClientBase
}

/**
 * Copies all rows of a shop in the transaction that `to` is in, and what counts them. Returns how many each table had. Throws where the
 * other side does not have as many.
 */
export async function copyShop({ from, to }: Ends, shopId: string, tables: readonly ShopTable[]): Promise<Map<string, number>> {
  const counts = new Map<string, number>()
  const ids = await copyAccounts({ from, to }, shopId)
  const own = pg.escapeLiteral(shopId)
  for (const { name, shop, columns, sequences } of tables) {
    const [table, list] = [pg.escapeIdentifier(name), columns.map((one) => pg.escapeIdentifier(one)).join(', ')]
    const where = `${pg.escapeIdentifier(shop)} = ${own}`
    if (name === 'users') await copyUsers({ from, to }, shopId, ids)
    else {
      const rows = from.query(copyTo(`copy (select ${list} from ${table} where ${where}) to stdout`))
      await pipeline(rows, to.query(copyFrom(`copy ${table} (${list}) from stdin`)))
    }
    const [there, here] = [await countOf(from, table, where), await countOf(to, table, where)]
    if (there !== here) throw new Error(`Of ${there} rows of ${name} only ${here} arrived`)
    counts.set(name, here)
    // Rows that come later must not get the numbers of those that came along.
    for (const { column, name: sequence } of sequences) {
      await to.query(`select setval($1, greatest((select max(${pg.escapeIdentifier(column)}) from ${table} where ${where}), (select last_value from ${sequence})))`, [sequence])
    }
  }
  return counts
} // prettier-ignore

async function countOf(client: pg.ClientBase, table: string, where: string): Promise<number> {
  const { rows } = await client.query<{ count: number }>(`select count(*) as count from ${table} where ${where}`) // prettier-ignore
  return rows[0]?.count ?? 0
}

/**
 * Brings along what the people of a shop sign in with. Who has an account in the other cell already keeps that one. Returns the id there of
 * each account.
 */
async function copyAccounts({ from, to }: Ends, shopId: string): Promise<Map<string, string>> {
  const ofShop = `in (select id from users where shop_id = $1)`
  const { rows: accounts } = await from.query<{ id: string; email: string }>(`select * from accounts where id ${ofShop}`, [shopId]) // prettier-ignore
  // As a document: a list in one of the columns would else become an array.
  await to.query(`insert into accounts select * from jsonb_populate_recordset(null::accounts, $1) on conflict do nothing`, [JSON.stringify(accounts)]) // prettier-ignore
  const { rows: there } = await to.query<{ id: string; email: string }>(`select id, email from accounts where email = any($1)`, [accounts.map(({ email }) => email)]) // prettier-ignore
  const byEmail = new Map(there.map(({ id, email }) => [email, id]))
  const ids = new Map(accounts.map(({ id, email }) => [id, byEmail.get(email) ?? id]))
  const { rows: passkeys } = await from.query<{ account_id: string }>(`select * from passkeys where account_id ${ofShop}`, [shopId]) // prettier-ignore
  const moved = passkeys.map((one) => ({ ...one, account_id: ids.get(one.account_id) ?? one.account_id })) // prettier-ignore
  await to.query(`insert into passkeys select * from jsonb_populate_recordset(null::passkeys, $1) on conflict do nothing`, [JSON.stringify(moved)]) // prettier-ignore
  return ids
}

/** Who works in the shop, by the accounts that they have there. */
async function copyUsers({ from, to }: Ends, shopId: string, ids: ReadonlyMap<string, string>): Promise<void> {
  const { rows } = await from.query<{ id: string }>('select * from users where shop_id = $1', [shopId]) // prettier-ignore
  const moved = rows.map((row) => ({ ...row, id: ids.get(row.id) ?? row.id }))
  await to.query('insert into users select * from jsonb_populate_recordset(null::users, $1)', [JSON.stringify(moved)]) // prettier-ignore
} // prettier-ignore
