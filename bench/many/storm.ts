import { setTimeout as pause } from 'node:timers/promises'
import { ingestEvents } from '../../src/backend/shop/index.ts'
import { orderEvent } from '../../src/testing/builders.ts'
import { startWorkers } from './process.ts'
import { STORM, type Shops } from './shops.ts'
import type { Sink } from './sink.ts'

const PEOPLE = 10_000
const ORDERS = 4000
const EVERY_MS = 250
const IN_PEACE = 80

/** How long it takes from an order in one of many shops to the mail about it: in peace, and while another shop has a storm. */
export async function measureStorm(shops: Shops, sink: Sink): Promise<void> {
  const [worker] = await startWorkers(shops, sink, 1)
  let orders = 0
  const order = async (): Promise<number> => {
    orders += 1
    const [id, shop] = [`q${orders}`, shops.quiet(orders)]
    const arrives = sink.mailTo(`${id}@quiet.example`)
    const began = performance.now()
    await ingestEvents(shops.db, shop, [orderEvent('order.placed', Date.now(), { id, customerId: id }, { email: `${id}@quiet.example` })]) // prettier-ignore
    return (await arrives) - began
  }
  const ordersWhile = async (goesOn: () => Promise<boolean>): Promise<number[]> => {
    const latencies: Promise<number>[] = []
    while (await goesOn()) {
      latencies.push(order())
      await pause(EVERY_MS)
    }
    return Promise.all(latencies)
  }
  const inPeace = await ordersWhile(async () => orders < IN_PEACE)
  const began = performance.now()
  await shops.raiseStorm(PEOPLE)
  const incoming = shops.stormOfOrders(ORDERS)
  const beside = await ordersWhile(() => stormGoesOn(shops))
  await incoming
  const seconds = (performance.now() - began) / 1000
  report('in peace', inPeace)
  report(`while one shop has ${PEOPLE.toLocaleString('en')} people due and ${ORDERS.toLocaleString('en')} orders coming in (${seconds.toFixed(0)} s)`, beside) // prettier-ignore
  await worker?.stop()
}

/** Whether the storm has runs that are due, or jobs in the queue. */
async function stormGoesOn({ db }: Shops): Promise<boolean> {
  const { rows } = await db.execute(`
    select 1 where exists (select from runs where shop_id = '${STORM}' and due_at <= ${Date.now()})
      or (select count(*) from graphile_worker.jobs) > 5`)
  return rows.length > 0
}

function report(when: string, latencies: readonly number[]): void {
  const sorted = latencies.toSorted((a, b) => a - b)
  const at = (share: number) => Math.round(sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? NaN) // prettier-ignore
  console.log(`from an order to its mail, ${when}: half within ${at(0.5)} ms, 95 of 100 within ${at(0.95)} ms, all within ${at(1)} ms (${sorted.length} orders)`) // prettier-ignore
}
