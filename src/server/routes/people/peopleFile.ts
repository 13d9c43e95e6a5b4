import { findSegment } from '../../../backend/people/index.ts'
import { findShop, type Shop } from '../../../backend/shop/index.ts'
import type { Database } from '../../../backend/platform/db.ts'
import { peopleExportQuery, type PeopleSort, type PersonRow } from '../../../contract/people.ts'
import { decimalAmount } from '../../../core/shared/money.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import { peoplePage, type PeopleFilter } from '../../../drivers/people/peopleWhere.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'
import { sendRows } from '../../sendRows.ts'

/** People as a file: all of them, or those of a search and a condition or a segment, written as they are found. */
export function peopleExportRoutes(app: App, { db }: ServerContext): void {
  app.get(
    '/api/people-file',
    { schema: { querystring: peopleExportQuery }, preHandler: requireMarketer },
    async ({ user, query }, reply) => {
      const shop = await findShop(db, user.shopId)
      const { format, segment, search, sort } = query
      const condition = segment === undefined ? (query.condition ?? null) : (await findSegment(db, shop.id, segment)).condition
      return sendRows(reply, { name: 'people', format, rows: everyPage(db, shop, { search, condition, sort }) })
    },
  )
} // prettier-ignore

async function* everyPage(
  db: Database,
  shop: Shop,
  filter: PeopleFilter & { sort: PeopleSort },
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
