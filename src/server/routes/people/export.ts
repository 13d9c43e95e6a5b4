import { stringify } from 'csv-stringify'
import { Readable } from 'node:stream'
import { findShop, type Shop } from '../../../backend/shop/index.ts'
import type { Database } from '../../../backend/platform/db.ts'
import { peopleExportQuery, type PersonRow } from '../../../contract/people.ts'
import { decimalAmount } from '../../../core/shared/money.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import { peoplePage, type PeopleFilter } from '../../../drivers/people/peopleWhere.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** People as a file: all of them, or those of a search and a condition, written as they are found. */
export function peopleExportRoutes(app: App, { db }: ServerContext): void {
  app.get(
    '/api/people-file',
    { schema: { querystring: peopleExportQuery }, preHandler: requireMarketer },
    async ({ user, query }, reply) => {
      const shop = await findShop(db, user.shopId)
      const { format, condition = null, search, sort } = query
      const rows = Readable.from(everyPage(db, shop, { search, condition, sort }))
      reply.header('content-disposition', `attachment; filename="people.${format}"`)
      if (format === 'jsonl') return reply.type('application/x-ndjson').send(rows.map((row: object) => `${JSON.stringify(row)}\n`))
      const file = stringify({ header: true, bom: true, escape_formulas: true })
      rows.on('error', (error) => file.destroy(error))
      return reply.type('text/csv; charset=utf-8').send(rows.pipe(file))
    },
  )
} // prettier-ignore

async function* everyPage(
  db: Database,
  shop: Shop,
  filter: PeopleFilter & { sort: 'lastOrder' | 'name' | 'since' },
): AsyncGenerator<object> {
  let after: string | null = null
  do {
    const page: Awaited<ReturnType<typeof peoplePage>> = await peoplePage(db, shop, { ...filter, after }) // prettier-ignore
    for (const person of page.people) yield rowOf(person, shop.currency)
    after = page.after
  } while (after !== null)
}

const at = (instant: number | null): string => (instant === null ? '' : formatInstant(instant))

function rowOf(person: PersonRow, currency: string): object {
  const { createdAt, lastOrderAt, spentMinor, tags, lists, ...row } = person
  return {
    ...row,
    spent: decimalAmount({ amountMinor: spentMinor, currency }),
    currency,
    customerSince: at(createdAt),
    lastOrder: at(lastOrderAt),
    tags: tags.join(', '),
    lists: lists.join(', '),
  }
}
