import { setImmediate as breathe } from 'node:timers/promises'
import type { Db } from '../platform/db.ts'
import { ledgerPage } from '../runs/index.ts'
import type { Shop } from '../shop/index.ts'
import { readActivity } from './activity.ts'
import { readShopData } from './shopData.ts'
import type { Page, Read } from './page.ts'

const READS = { ...readShopData, ...readActivity, ledger: readLedger } satisfies Record<
  string,
  Read
>

/** What is written as it stands in the tables. */
export type KeptKind = keyof typeof READS

/** Every row of one kind of thing, page by page: however many there are, only a page of them is in memory. */
export async function* exportRows(db: Db, shop: Shop, kind: KeptKind): AsyncGenerator<object> {
  const read: Read = READS[kind]
  let after: readonly (string | number)[] | null = null
  do {
    const page: Page = await read(db, shop, after)
    yield* page.rows
    after = page.after
    await breathe()
  } while (after !== null)
}

const LEDGER_PAGE = 500

/** The newest first, as the ledger is read. */
async function readLedger(db: Db, shop: Shop, after: Page['after']): Promise<Page> {
  const before = after === null ? undefined : Number(after[0])
  const { rows, more } = await ledgerPage(db, shop, { show: 'all', before }, LEDGER_PAGE)
  const last = rows.at(-1)
  return {
    rows: rows.map(({ at, workflow, customer, ...row }) => ({
      at: new Date(at).toISOString(),
      ...row,
      workflow: workflow?.name ?? '',
      workflowId: workflow?.id ?? '',
      customerId: customer.id,
      customer: customer.name,
      email: customer.email,
    })),
    after: more && last ? [last.id] : null,
  }
}
