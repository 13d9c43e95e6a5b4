import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { tableState } from '../backend/watch/index.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'
import type { Readiness } from '../contract/watch.ts'
import { makeApi, type Api } from '../testing/api.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

const get = (url: string, headers: Record<string, string> = {}, remoteAddress = '127.0.0.1') =>
  api.app.inject({ method: 'GET', url, headers, remoteAddress })

describe('whether it can work', () => {
  test('it lives, and is ready once the tables are as it knows them', async () => {
    expect((await get('/livez')).body).toBe('lives\n')
    const ready = await get('/readyz')
    expect(ready.statusCode).toBe(200)
    expect(ready.json<Readiness>().checks.map(({ name, ok }) => [name, ok])).toEqual([
      ['database', true],
      ['tables', true],
      ['queue', true],
    ])
  })

  test('with changes to the tables outstanding it is not, and says what to do; newer ones are no hindrance', async () => {
    const { db } = api.world
    await db.execute(sql`create table kept as select * from drizzle.__drizzle_migrations`)
    const last = sql`(select max(created_at) from drizzle.__drizzle_migrations)`
    await db.execute(sql`delete from drizzle.__drizzle_migrations where created_at = ${last}`)
    const behind = await get('/readyz')
    expect(behind.statusCode).toBe(503)
    expect(behind.body).toContain('yomble migrate')
    await db.execute(sql`insert into drizzle.__drizzle_migrations select * from kept where created_at = (select max(created_at) from kept)`) // prettier-ignore
    await db.execute(sql`insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 99999999999999)`) // prettier-ignore
    expect(await tableState(db, MIGRATIONS)).toEqual({ pending: [], isNewer: true })
    expect((await get('/readyz')).statusCode).toBe(200)
    await db.execute(sql`delete from drizzle.__drizzle_migrations where hash = 'later'`)
  })

  test('what waits too long is said, and does not take it out of service', async () => {
    await api.world.db.execute(sql`select graphile_worker.add_job('startRuns', '{}'::json, run_at := now() - interval '1 hour')`) // prettier-ignore
    // A place in the queue is no age: it is as old as it was added.
    expect((await get('/readyz')).json<Readiness>().checks[2]).toMatchObject({
      name: 'queue',
      ok: true,
    })
    await api.world.db.execute(
      sql`update graphile_worker._private_jobs set created_at = now() - interval '1 hour'`,
    )
    const late = await get('/readyz')
    expect(late.statusCode).toBe(200)
    expect(late.json<Readiness>().checks[2]).toMatchObject({ name: 'queue', ok: false })
    await api.world.db.execute(sql`delete from graphile_worker._private_jobs`)
  })
})

describe('figures for Prometheus', () => {
  test('requests by route, the queue, messages that have not left; for the machine itself', async () => {
    const figures = await get('/metrics')
    expect(figures.headers['content-type']).toContain('text/plain; version=0.0.4')
    expect(figures.body).toMatch(/yomble_http_request_seconds_count\{method="GET",route="\/livez",status="200"\} \d/)
    for (const name of ['yomble_queue_age_seconds', 'yomble_jobs', 'yomble_workers', 'yomble_due_lag_seconds', 'yomble_database_connections']) {
      expect(figures.body).toContain(`# TYPE ${name} gauge`)
    }
    expect((await get('/metrics', {}, '203.0.113.9')).statusCode).toBe(403)
    // Handed on by a proxy on the same machine.
    expect((await get('/metrics', { 'x-forwarded-for': '203.0.113.9' })).statusCode).toBe(403)
  }) // prettier-ignore
})
