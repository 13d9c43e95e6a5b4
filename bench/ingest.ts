import { sql } from 'drizzle-orm'
import { createApiKey } from '../src/backend/accounts/index.ts'
import { recordsOf } from '../src/backend/platform/db.ts'
import { makeLog } from '../src/backend/platform/log.ts'
import { buildApp } from '../src/server/app.ts'
import { START } from '../src/testing/builders.ts'
import { testConfig } from '../src/testing/people.ts'
import { SHOP } from '../src/testing/world.ts'
import { chunks, perSecond, report } from './measure.ts'
import { events, withShop } from './shop.ts'

const BATCH = 100

/** Events over HTTP in batches, beside inserting the same rows into the same table and no more. */
export async function measureIngest(): Promise<void> {
  let ours = 0
  await withShop(async (db, url) => {
    const { key } = await createApiKey(db, SHOP, 'bench')
    const config = testConfig({ DATABASE_URL: url })
    const log = makeLog('silent')
    const app = await buildApp({ db, config, publicUrl: 'http://127.0.0.1', log })
    const address = await app.listen({ host: '127.0.0.1', port: 0 })
    ours = await perSecond(events.length, () => postAll(`${address}/v1/events`, key))
    await app.close()
  })
  await withShop(async (db) => {
    const raw = await perSecond(events.length, async () => {
      for (const batch of chunks(events, BATCH)) {
        const rows = batch.map(({ id, source, type, data }) => ({
          id,
          source,
          type,
          data,
          customerId: data.order.customerId,
          subjectId: data.order.id,
        }))
        await db.execute(sql`
          insert into events (shop_id, source, event_id, type, time, received_at, customer_id,
            subject_id, data)
          select ${SHOP}, source, id, type, ${START}, ${START}, "customerId", "subjectId", data
          from jsonb_to_recordset(${recordsOf(rows)}) as e(source text, id text, type text,
            "customerId" text, "subjectId" text, data jsonb)`)
      }
    })
    report('events in over HTTP, batches of 100', ours, 'PostgreSQL, the same inserts', raw)
  })
}

async function postAll(url: string, key: string): Promise<void> {
  const headers = {
    authorization: `Bearer ${key}`,
    'content-type': 'application/cloudevents-batch+json',
  }
  for (const batch of chunks(events, BATCH)) {
    const response = await fetch(url, { method: 'POST', headers, body: JSON.stringify(batch) })
    if (response.status !== 200) throw new Error(`The batch was answered ${response.status}`)
    await response.arrayBuffer()
  }
}
