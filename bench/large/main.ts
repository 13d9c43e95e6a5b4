import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { openDatabase, type Database } from '../../src/backend/platform/db.ts'
import { migrateJobs } from '../../src/backend/platform/jobs.ts'
import { makeLog } from '../../src/backend/platform/log.ts'
import { migrateDatabase } from '../../src/backend/platform/migrate.ts'
import { MIGRATIONS } from '../../src/backend/platform/migrationsFolder.ts'
import { DEMO_PASSWORD, DEMO_SHOP, DEMO_USERS, seedPast } from '../../src/demo/seed.ts'
import { buildApp } from '../../src/server/app.ts'
import { testConfig } from '../../src/testing/people.ts'
import { countShop } from '../../src/worker/keepCounting.ts'
import { asked, placesIn, type Asked } from '../../src/testing/asked.ts'
import { multiply } from '../../src/testing/multiply.ts'

const ORIGIN = 'http://localhost:8080'
const TIMES = Number(process.env['LARGE_TIMES'] ?? 75)
const WORKFLOWS = 10
/** Each question is asked so often, unless that takes longer than this. */
const ASKED = 20
const PATIENCE_MS = 15_000
const say = (text: string): void => console.log(`• ${text}`)

const server = process.env['TEST_DATABASE_URL']
if (server === undefined) throw new Error('Run this with: npm run bench -- --large')

const only = process.env['LARGE_ONLY']
const small = await database('small', async (db) => {
  await seedPast(db, say)
})
const large = await database(`large${TIMES}`, (db) => multiply(db, { shopId: DEMO_SHOP, times: TIMES, workflows: WORKFLOWS }, say), 'small') // prettier-ignore

const results: { name: string; aim: number; small: Taken; large: Taken }[] = []
const [smallAsk, largeAsk] = [await asker(small), await asker(large)]
for (const [index, one] of smallAsk.questions.entries()) {
  if (only !== undefined && !one.name.includes(only)) continue
  const other = largeAsk.questions[index]
  if (!other) continue
  const result = { name: one.name, aim: one.aim, small: await smallAsk.ask(one), large: await largeAsk.ask(other) } // prettier-ignore
  results.push(result)
  print(result)
}
writeFileSync(
  fileURLToPath(new URL('../../.data/large.json', import.meta.url)),
  JSON.stringify(results, null, 2),
)
for (const { close } of [smallAsk, largeAsk]) await close()

interface Taken {
  p50: number
  p95: number
  status: number
}

function print({ name, aim, small: few, large: many }: (typeof results)[number]): void {
  const mark = many.status >= 400 ? `answers ${many.status}` : many.p95 > aim ? `over ${aim}` : ''
  const shown = [few.p50, few.p95, many.p50, many.p95].map((ms) => ms.toFixed(0).padStart(7))
  console.log(`${name.padEnd(42)}${shown.join('')}   ×${(many.p50 / few.p50).toFixed(1).padStart(5)}  ${mark}`) // prettier-ignore
}

/** Asks the routes of a server on a database as the shop’s owner, and says how long answers take. */
async function asker(db: Database) {
  const config = testConfig({ DATABASE_URL: urlOf(db), PORT: 8080 })
  const app = await buildApp({ db, config, publicUrl: ORIGIN, log: makeLog('silent') })
  const headers = { origin: ORIGIN }
  const { email } = DEMO_USERS[0]
  const signedIn = await app.inject({ method: 'POST', url: '/api/session', headers, payload: { email, password: DEMO_PASSWORD } }) // prettier-ignore
  const cookie = String(signedIn.headers['set-cookie']).split(';')[0] ?? ''
  const places = await placesIn(db, DEMO_SHOP)
  return {
    questions: asked(places),
    close: async () => {
      await app.close()
      await db.$client.end()
    },
    async ask({ method = 'GET', url, payload }: Asked): Promise<Taken> {
      const times: number[] = []
      let status = 0
      const began = performance.now()
      while (times.length < ASKED && performance.now() - began < PATIENCE_MS) {
        const at = performance.now()
        const answer = await app.inject({ method, url, headers: { ...headers, cookie }, ...(payload && { payload }) }) // prettier-ignore
        times.push(performance.now() - at)
        status = answer.statusCode
        if (status >= 400) console.log(answer.body.slice(0, 300))
        if (status >= 400) break
      }
      const sorted = times.toSorted((a, b) => a - b)
      const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? NaN // prettier-ignore
      return { p50: at(0.5), p95: at(0.95), status }
    },
  }
}

function urlOf(db: Database): string {
  return String(db.$client.options.connectionString)
}

/** A database of that name, filled where it is not there yet: to make a large one takes minutes. */
async function database(
  name: string,
  fill: (db: Database) => Promise<void>,
  template?: string,
): Promise<Database> {
  const admin = new pg.Client({ connectionString: server })
  await admin.connect()
  const { rows } = await admin.query('select 1 from pg_database where datname = $1', [name])
  const { rows: full } = await admin.query(`select 1 from pg_shdescription d join pg_database b on b.oid = d.objoid where b.datname = $1 and d.description = 'full'`, [name]) // prettier-ignore
  const url = new URL(server ?? '')
  url.pathname = `/${name}`
  if (rows.length > 0 && full.length === 0) await admin.query(`drop database ${name} with (force)`)
  if (full.length === 0) {
    await admin.query(`create database ${name} ${template ? `template ${template}` : ''}`)
  }
  const db = openDatabase(url.href)
  if (full.length === 0) {
    if (!template) {
      await migrateDatabase(db, MIGRATIONS)
      await migrateJobs(db)
    }
    say(`Filling ${name}`)
    await fill(db)
    await db.execute('vacuum analyze')
    say('Counting what the screens show, as a worker does ahead of them')
    const began = performance.now()
    await countShop(db, DEMO_SHOP, new AbortController().signal)
    say(`Counted in ${Math.round((performance.now() - began) / 1000)} s`)
    await db.execute('vacuum analyze')
    await admin.query(`comment on database ${name} is 'full'`)
    if (!template) await db.$client.end()
  }
  await admin.end()
  return template ? db : openDatabase(url.href)
}
