import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'

const person = z.object({
  id: z.string(),
  name: z.string().nullable(),
  email: z.string().nullable(),
})

/** What some customers are called, and their addresses, by id. */
export async function namesOfCustomers(
  db: Db,
  shopId: string,
  ids: readonly string[],
): Promise<Map<string, Omit<z.infer<typeof person>, 'id'>>> {
  const rows = await rowsOf(
    db,
    person,
    sql`select id, nullif(concat_ws(' ', first_name, last_name), '') as name, email from customers
    where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(rows.map(({ id, ...names }) => [id, names]))
}

/** The numbers of some orders, as their buyers know them, by id. */
export async function numbersOfOrders(
  db: Db,
  shopId: string,
  ids: readonly string[],
): Promise<Map<string, string>> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.string(), number: z.string() }),
    sql`select id, number from orders where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(rows.map(({ id, number }) => [id, number]))
}
