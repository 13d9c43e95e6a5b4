import { spawn, type ChildProcess } from 'node:child_process'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { storeMail } from '../backend/mailbox/index.ts'
import { setClock, ingestEvents } from '../backend/shop/index.ts'
import { HOUR_MS } from '../core/shared/duration.ts'
import { Programs } from '../drivers/live/programs.ts'
import { startRuns } from '../drivers/live/startRuns.ts'
import { startSmtpServer, type SimulatedSmtpServer } from '../simulated/smtpServer.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../testing/builders.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../testing/world.ts'

const RUNS = 2000
/** Kills come when so many mails have arrived: while runs are still being moved, and well into the sending. */
const KILLS_AT = [5, 300]

let world: World
let smtp: SimulatedSmtpServer
let arrived = 0
let waiting: { mails: number; reached: () => void } | null = null
beforeEach(async () => {
  world = await makeWorld()
  arrived = 0
  smtp = await startSmtpServer(async ({ raw, recipients }) => {
    await storeMail(world.db, SHOP, raw, recipients)
    arrived += 1
    if (waiting && arrived >= waiting.mails) waiting.reached()
  })
})
afterEach(async () => {
  await smtp.close()
  await world.close()
})

/** A worker in a process of its own, as in production. */
function startWorkerProcess(): ChildProcess {
  return spawn(process.execPath, ['--import', 'tsx', 'src/worker/main.ts'], {
    env: {
      ...process.env,
      DATABASE_URL: world.url,
      SMTP_URL: `smtp://127.0.0.1:${smtp.port}`,
      LINK_SECRET,
      LOG_LEVEL: 'error',
    },
    stdio: 'inherit',
  })
}

const ended = (child: ChildProcess) =>
  new Promise<void>((resolve) => child.once('exit', () => resolve()))

/** Half the messages are marketing, half transactional. */
async function makeDueRuns(): Promise<void> {
  for (const purpose of ['marketing', 'transactional'] as const) {
    await world.publish(
      aDefinition({
        trigger: { kind: 'event', event: purpose === 'marketing' ? 'order.placed' : 'order.paid' },
        steps: [wait('w', 'PT1H'), anEmail('a', { purpose })],
      }),
    )
  }
  const events = Array.from({ length: RUNS }, (_, index) =>
    orderEvent(
      index % 2 === 0 ? 'order.placed' : 'order.paid',
      START,
      { id: `o${index}`, number: String(index), customerId: `c${index}` },
      { email: `c${index}@example.org` },
    ),
  )
  await ingestEvents(world.db, SHOP, events.slice(0, RUNS / 2))
  await ingestEvents(world.db, SHOP, events.slice(RUNS / 2))
  const { rows } = await world.db.execute('select seq from events')
  await startRuns(
    world.db,
    new Programs(),
    SHOP,
    rows.map((row) => Number(row['seq'])),
  )
  await setClock(world.db, SHOP, START + HOUR_MS)
}

const open = async (): Promise<number> => {
  const { rows } = await world.db.execute(`select
    (select count(*) from messages where status in ('queued', 'handingOver')) +
    (select count(*) from runs where due_at is not null) as open`)
  return Number(rows[0]?.['open'])
}

test('SIGKILL in the middle of 2,000 due runs: each step once, each mail once or listed as unsure', async () => {
  await makeDueRuns()
  for (const mails of KILLS_AT) {
    const reached = new Promise<void>((resolve) => {
      waiting = { mails, reached: resolve }
    })
    const victim = startWorkerProcess()
    await reached
    victim.kill('SIGKILL')
    await ended(victim)
    expect(await open()).toBeGreaterThan(0)
  }

  const survivor = startWorkerProcess()
  await vi.waitFor(async () => expect(await open()).toBe(0), { timeout: 240_000, interval: 200 })
  survivor.kill('SIGTERM')
  await ended(survivor)

  const doubledSteps = await world.db.execute(`select run_id, entry->>'step' from ledger
    where kind = 'sends' group by 1, 2 having count(*) <> 1`)
  expect(doubledSteps.rows).toEqual([])
  const { rows } = await world.db.execute(`select m.status, m.step,
      (select count(*) from mails where mails.message_id = m.message_id) as mails,
      exists(select 1 from ledger l where l.run_id = m.run_id and l.kind = 'unsure'
        and l.entry->>'step' = m.step) as unsure
    from messages m`)
  expect(rows).toHaveLength(RUNS)
  const wrong = rows.filter((row) => Number(row['mails']) !== 1 && row['unsure'] !== true)
  expect(wrong).toEqual([])
  // Marketing is never sent twice, whatever happens.
  const twice = await world.db.execute(`select 1 from messages m join runs r on r.id = m.run_id
    where r.subject_id is not null and m.status = 'unsure'
      and (select count(*) from mails where mails.message_id = m.message_id) > 1`)
  expect(twice.rows).toEqual([])
  const runs = await world.db.execute('select status, count(*) as count from runs group by 1')
  expect(runs.rows).toEqual([{ status: 'ended', count: RUNS }])
}, 300_000)
