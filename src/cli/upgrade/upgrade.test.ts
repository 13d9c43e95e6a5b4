import { readFileSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { gunzipSync } from 'node:zlib'
import { sql } from 'drizzle-orm'
import { Secret, TOTP } from 'otpauth'
import pg from 'pg'
import { expect, test } from 'vitest'
import { z } from 'zod'
import { signIn } from '../../backend/accounts/index.ts'
import { readConfig } from '../../backend/platform/config.ts'
import { openDatabase, rowsOf } from '../../backend/platform/db.ts'
import { migrateJobs } from '../../backend/platform/jobs.ts'
import { migrateDatabase } from '../../backend/platform/migrate.ts'
import { MIGRATIONS } from '../../backend/platform/migrationsFolder.ts'
import { realNow } from '../../backend/platform/realTime.ts'
import { tableState } from '../../backend/watch/index.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { START } from '../../testing/builders.ts'
import { emptyDatabase } from '../../testing/database.ts'
import { PASSWORD } from '../../testing/people.ts'
import { LINK_SECRET, makeWorld, SHOP } from '../../testing/world.ts'

/**
 * A shop as a program of migration 0046 had left it: 200 orders, each of which got a message and waits for another; two accounts,
 * one with a second factor whose secret was not sealed then.
 */
const DUMP = new URL('0046.sql.gz', import.meta.url)
const SECRET = 'JBSWY3DPEHPK3PXPJBSWY3DPEHPK3PXP'

/** What a server of that program asks again and again, as it asked it. */
const THEN = [
  `select s.token_hash, u.shop_id, u.id, u.email, u.name, u.role, u.password_hash, u.second_factor
    from sessions s right join users u on u.shop_id = s.shop_id and u.id = s.user_id`,
  `select id, name, zone, currency, locale, default_sender_name, default_sender_address, brand, holdouts, clock_now from shops`,
  `select shop_id, id, state, draft, draft_revision, live_version, changed_at, place from workflows`,
]
/** How it took in an event, and asked for what it starts. */
const INGEST = `with taken as (
    insert into events (shop_id, source, event_id, type, time, received_at, customer_id, subject_id, data)
    select shop_id, source, event_id || $1::text, type, time, received_at, customer_id, subject_id, data
    from events where event_id = 'e1' returning shop_id, seq)
  select graphile_worker.add_job('startRuns', json_build_object('shopId', shop_id, 'seqs', json_build_array(seq))) from taken`

const PAUSE_MS = 10

/** A server of that program, which goes on while the tables are changed under it. A lock of more than two seconds is an error. */
async function oldServer(url: string) {
  const client = new pg.Client({ connectionString: url, options: '-c lock_timeout=2s' })
  await client.connect()
  const stopping = new AbortController()
  let taken = 0
  const errors: string[] = []
  const run = async (): Promise<void> => {
    while (!stopping.signal.aborted) {
      try {
        await client.query(INGEST, [`-${taken}`])
        taken += 1
        for (const statement of THEN) await client.query(statement)
        // A shop's server has moments of rest; without any, this one would be all there is to the database.
        await pause(PAUSE_MS)
      } catch (error) {
        errors.push(String(error))
      }
    }
    await client.end()
  }
  const running = run()
  return {
    taken: () => taken,
    errors,
    stop: async () => {
      stopping.abort()
      await running
    },
  }
}

test('tables are brought up to date while a server of before takes in events: it goes on, and nothing is lost or sent twice', async () => {
  const url = await emptyDatabase()
  const filling = new pg.Client({ connectionString: url })
  await filling.connect()
  await filling.query(gunzipSync(readFileSync(DUMP)).toString())
  await filling.end()
  const db = openDatabase(url)
  const old = await oldServer(url)
  await expect.poll(old.taken).toBeGreaterThan(5)
  const before = old.taken()
  await migrateDatabase(db, MIGRATIONS)
  await migrateJobs(db)
  const after = old.taken()
  await expect.poll(old.taken).toBeGreaterThan(after + 5)
  await old.stop()
  expect(old.errors).toEqual([])
  expect(after).toBeGreaterThanOrEqual(before)
  expect((await tableState(db, MIGRATIONS)).pending).toEqual([])
  await db.$client.end()

  const world = await makeWorld({ url })
  const count = async (query: ReturnType<typeof sql>) =>
    (await rowsOf(world.db, z.object({ n: z.coerce.number() }), query))[0]?.n
  const orders = 200 + old.taken()
  await world.settle()
  expect(await count(sql`select count(*) as n from events where considered`)).toBe(orders)
  await world.moveTo(START + 4 * DAY_MS)
  const mailed = (subject: string) => count(sql`select count(*) as n from mails where subject = ${subject}`) // prettier-ignore
  expect([await mailed('Thank you'), await mailed('How is it?')]).toEqual([orders, orders])

  const enter = (email: string, code?: string) =>
    signIn(world.db, { email, password: PASSWORD, address: '127.0.0.1', code, config: readConfig({ DATABASE_URL: 'postgres://nowhere', LINK_SECRET }) }) // prettier-ignore
  expect((await enter('maren@combwright.example')).token).toBeTruthy()
  await expect(enter('aoife@combwright.example')).rejects.toMatchObject({ code: 'not_signed_in' })
  const code = new TOTP({ secret: Secret.fromBase32(SECRET) }).generate({ timestamp: realNow() })
  expect((await enter('aoife@combwright.example', code)).token).toBeTruthy()
  // From now on it is sealed.
  expect(await count(sql`select count(*) as n from accounts where second_factor::text like ${`%${SECRET}%`}`)).toBe(0) // prettier-ignore
  expect(await count(sql`select count(*) as n from users where shop_id = ${SHOP} and password_hash is not null`)).toBe(0) // prettier-ignore
  await world.close()
})
