import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { Db } from '../../platform/db.ts'

export const personRow = z.object({
  id: z.string(),
  email: z.string().nullable(),
  phone: z.string().nullable(),
})
type Person = z.infer<typeof personRow>

/** What holds their words or addresses and nothing that is counted: it goes. */
export async function removeCopies(db: Db, shopId: string, person: Person): Promise<void> {
  const { id, email } = person
  const own = sql`shop_id = ${shopId} and customer_id = ${id}`
  await db.execute(sql`
    delete from link_targets t using (
      select id as part from orders where ${own} union select number from orders where ${own}
      union select id from subscriptions where ${own} union select id from carts where ${own}
      union select token from ways_out where ${own} union select ${id}::text union select ${email}::text
    ) p
    where t.shop_id = ${shopId} and length(p.part) > 2 and position(p.part in t.url) > 0`)
  await db.execute(sql`
    delete from mails m where m.shop_id = ${shopId} and (lower(m.to_address) = lower(${email})
      or m.message_id in (select message_id from messages where ${own}))`)
  await db.execute(sql`
    delete from short_links where shop_id = ${shopId}
      and message_id in (select id from messages where ${own})`)
  await db.execute(sql`delete from ways_out where ${own}`)
  await db.execute(sql`delete from carts where ${own}`)
  await db.execute(sql`delete from expected_reorders where ${own}`)
  await db.execute(sql`delete from intake_people where ${own}`)
  await db.execute(sql`delete from changes where ${own}`)
  await db.execute(sql`delete from dead_addresses where shop_id = ${shopId} and address = lower(${email})`)
  await removeKept(db, shopId, person)
} // prettier-ignore

/** What is kept as it came: bodies of connections, events that were refused, files that were brought in. */
async function removeKept(db: Db, shopId: string, { id, email, phone }: Person): Promise<void> {
  // An id alone may be any word: in what is JSON it stands in quotes.
  const traces = [`"${id}"`, email, phone].flatMap((trace) => (trace ? [trace.toLowerCase()] : []))
  const names = (text: SQL): SQL =>
    sql.join(traces.map((trace) => sql`position(${trace} in lower(${text})) > 0`), sql` or `)
  const cells = traces.map((trace) => sql`position(${trace} in lower(cells::text)) > 0`)
  await db.execute(sql`delete from connection_bodies where shop_id = ${shopId} and (${names(sql`body`)})`)
  await db.execute(sql`delete from refused_events where shop_id = ${shopId} and (${names(sql`event::text`)})`)
  await db.execute(sql`delete from import_refusals where shop_id = ${shopId} and (${sql.join(cells, sql` or `)})`)
  // Some name those who got most, or wait: counted anew, they are gone from there.
  await db.execute(sql`delete from kept_figures where shop_id = ${shopId} and (${names(sql`figures::text`)})`)
  // What stood there before an import is not put back when it is undone.
  await db.execute(sql`delete from import_before where shop_id = ${shopId}
    and ((of = 'customers' and id = ${id}) or before->>'customer_id' = ${id} or (of = 'dead_addresses' and id = lower(${email})))`)
  // Files are dropped whole: nobody can tell where in one somebody stands. One that is being read goes when it is done.
  await db.execute(sql`delete from import_pieces p using imports i
    where p.shop_id = ${shopId} and i.shop_id = p.shop_id and i.id = p.import_id and i.state <> 'running'`)
} // prettier-ignore
