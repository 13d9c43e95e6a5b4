import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { freeDatabase, makeDatabase } from '../../testing/database.ts'
import { openDatabase, type Database } from './db.ts'
import { AskerGoneError, openReading, type Reading } from './reading.ts'

let url: string
let db: Database
let reading: Reading
beforeAll(async () => {
  url = await makeDatabase()
  db = openDatabase(url)
  reading = openReading(url, db)
})
afterAll(async () => {
  await reading.close()
  await db.$client.end()
  freeDatabase(url)
})

/** Somebody who goes away when told to. */
function anAsker() {
  let leave: () => void = () => undefined
  return { asker: { onGone: (callback: () => void) => (leave = callback) }, leave: () => leave() }
}

/** Asks something long, and goes away once PostgreSQL is at work on it. */
function askAndLeave(): Promise<unknown> {
  const { asker, leave } = anAsker()
  return reading.run(asker, async (tx) => {
    // Drizzle asks only once somebody waits for the answer.
    const asked = tx.execute(sql`select pg_sleep(60)`).then(String)
    while (!(await isAtWork())) continue
    leave()
    return asked
  })
}

async function isAtWork(): Promise<boolean> {
  const { rows } = await db.execute(
    sql`select 1 from pg_stat_activity
        where datname = current_database() and state = 'active' and wait_event = 'PgSleep'`,
  )
  return rows.length > 0
}

const staying = { onGone: () => undefined }

test('what nobody waits for any more is cancelled, and told apart from a query that took too long', async () => {
  await expect(askAndLeave()).rejects.toBeInstanceOf(AskerGoneError)
})

test('what is reckoned for somebody who has gone ends at its next turn, and others have theirs meanwhile', async () => {
  const { asker, leave } = anAsker()
  let parts = 0
  let others = 0
  let begin: () => void = () => undefined
  const begun = new Promise<void>((resolve) => (begin = resolve))
  const over = reading.run(asker, async (_tx, turn) => {
    begin()
    for (;;) {
      const until = performance.now() + 12
      while (performance.now() < until) parts += 1
      await turn()
    }
  })
  const ended = over.then(
    () => 'done',
    (error: unknown) => error,
  )
  await begun
  while (others < 5) {
    await db.execute(sql`select 1`)
    others += 1
  }
  leave()
  expect(await ended).toBeInstanceOf(AskerGoneError)
  expect(parts).toBeGreaterThan(0)
})

test('an error of the work itself stays what it is', async () => {
  await expect(reading.run(staying, (tx) => tx.execute(sql`select 1 / 0`))).rejects.toMatchObject({
    cause: { code: '22012' },
  })
})

test('nothing is asked for somebody who has left before their turn', async () => {
  const asker = { onGone: (callback: () => void) => callback() }
  let asked = false
  const answer = reading.run(asker, async () => {
    asked = true
    return Promise.resolve()
  })
  await expect(answer).rejects.toBeInstanceOf(AskerGoneError)
  expect(asked).toBe(false)
})

test('a connection that was cancelled can be used again', async () => {
  for (let time = 0; time < 6; time += 1) {
    await expect(askAndLeave()).rejects.toBeInstanceOf(AskerGoneError)
  }
  const { rows } = await reading.run(staying, (tx) => tx.execute(sql`select 1 as one`))
  expect(rows).toEqual([{ one: 1 }])
})

test('nothing can be written through it', async () => {
  const answer = reading.run(staying, (tx) => tx.execute(sql`create table notes (id int)`))
  await expect(answer).rejects.toMatchObject({ cause: { code: '25006' } })
})
