import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { addPeople } from '../testing/people.ts'
import { aDefinition, anEmail, orderEvent, START } from '../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../testing/world.ts'
import type { HandOver } from '../backend/platform/handOver.ts'
import type { OutgoingMail } from '../backend/messages/index.ts'
import { DAY_MS, HOUR_MS } from '../core/shared/duration.ts'
import {
  installationTimes,
  largestTables,
  listAlerts,
  noteInstallation,
  watchShop,
} from '../backend/watch/index.ts'
import { tellOwners } from './keepWatch.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
  await addPeople(world.db)
})
afterEach(() => world.close())

const codes = async () => {
  await watchShop(world.db, SHOP)
  return (await listAlerts(world.db, SHOP)).map(({ code, about }) => `${code} ${about}`.trim())
}
/** A message that was decided and has not left. */
async function oneQueued(): Promise<string> {
  const id = await world.publish(aDefinition({ steps: [anEmail('m', { subject: 'm', body: 'Hello' })] })) // prettier-ignore
  await world.post(orderEvent('order.placed', START))
  await world.db.execute(sql`update messages set status = 'queued', sent_at = null`)
  return id
}

test('what cannot leave is kept as long as it lasts, and its owners are told once, when the mail server takes it', async () => {
  expect(await codes()).toEqual([])
  await oneQueued()
  expect(await codes()).toEqual([])
  await world.db.execute(sql`update shops set clock_now = clock_now + ${HOUR_MS}::bigint`)
  expect(await codes()).toEqual(['stuck'])
  const sent: OutgoingMail[] = []
  let answer: HandOver = { kind: 'temporary', error: 'away' }
  const mailer = { send: async (mail: OutgoingMail) => (sent.push(mail), answer), close: () => undefined } // prettier-ignore
  const tell = () => tellOwners({ db: world.db, mailer, publicUrl: 'https://y.example' }, SHOP)
  await tell()
  answer = { kind: 'sent' }
  await tell()
  await tell()
  expect(sent).toHaveLength(2)
  // The owner, and no staff.
  expect(sent[1]?.to).toEqual(['maren@combwright.example'])
  expect(sent[1]?.text).toContain('1 message cannot leave, the oldest for 60 minutes')
  expect(sent[1]?.text).toContain('https://y.example/settings/status')
  await world.db.execute(sql`update messages set status = 'sent'`)
  expect(await codes()).toEqual([])
  // Should it come back, that is something new.
  await world.db.execute(sql`update messages set status = 'queued'`)
  expect(await codes()).toEqual(['stuck'])
  await tell()
  expect(sent).toHaveLength(3)
})

test('a workflow that has stopped sending, a connection that has fallen silent, and complaints', async () => {
  const id = await oneQueued()
  await world.db.execute(sql`update messages set status = 'sent', sent_at = ${START - 8 * DAY_MS}::bigint`) // prettier-ignore
  await world.db.execute(sql`insert into messages (shop_id, run_id, workflow_id, version, step, customer_id, status, message_id, decided_at, sent_at)
    select shop_id, 1000 + n, workflow_id, version, step, customer_id, status, message_id || n, decided_at, sent_at from messages, generate_series(1, 30) n`) // prettier-ignore
  await world.db.execute(sql`insert into connections (shop_id, id, name, token_hash, created_at) values (${SHOP}, 'c', 'Web shop', 'x', 0)`) // prettier-ignore
  await world.db.execute(sql`insert into connection_bodies (shop_id, connection_id, received_at, body, state, outcome)
    select ${SHOP}, 'c', ${START - 3 * DAY_MS}::bigint + n * ${HOUR_MS}::bigint, '{}', 'taken', '{}' from generate_series(1, 20) n`) // prettier-ignore
  expect(await codes()).toEqual(expect.arrayContaining([`workflowSilent ${id}`, 'connectionSilent c'])) // prettier-ignore
})

test('when it was backed up last is known, and what it has grown to', async () => {
  expect(await installationTimes(world.db)).toEqual({ backup: null })
  await noteInstallation(world.db, 'backup')
  await noteInstallation(world.db, 'backup')
  expect((await installationTimes(world.db)).backup).toBeGreaterThan(0)
  expect((await largestTables(world.db, 3)).map(({ bytes }) => bytes > 0)).toEqual([true, true, true]) // prettier-ignore
})
