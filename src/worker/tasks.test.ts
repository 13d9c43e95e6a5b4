import { afterEach, beforeEach, expect, test } from 'vitest'
import { addJobs } from '../backend/platform/jobs.ts'
import { HOUR_MS } from '../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../testing/builders.ts'
import { makeWorld, type World } from '../testing/world.ts'

let world: World

beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

test('an event that cannot be looked at holds up none of those that came in with it, and is tried again', async () => {
  await world.publish(aDefinition())
  const event = (customerId: string) =>
    orderEvent('order.placed', START, { id: customerId, customerId }, { id: customerId })
  await world.db.execute(`create function raise_for_c2() returns trigger language plpgsql as $$
    begin if new.customer_id = 'c2' then raise 'out of order'; end if; return new; end $$`)
  await world.db.execute(`create trigger raise_for_c2 before insert on runs
    for each row execute function raise_for_c2()`)
  await world.post(event('c1'), event('c2'), event('c3'))
  expect(await world.mails()).toHaveLength(2)
  expect(world.complaints).toContainEqual(
    expect.stringMatching(/one by one now: [^]*insert into runs/),
  )
  const { rows } = await world.db.execute(
    'select task_identifier, attempts, last_error from graphile_worker.jobs',
  )
  expect(rows).toEqual([
    {
      task_identifier: 'startRuns',
      attempts: 1,
      last_error: expect.stringContaining('insert into runs') as unknown,
    },
  ])
  // Once what was in the way is gone, the next try lets the third one in.
  await world.db.execute('drop function raise_for_c2 cascade')
  await world.db.execute(
    'select graphile_worker.reschedule_jobs(array(select id from graphile_worker.jobs), now())',
  )
  await world.settle()
  expect(await world.mails()).toHaveLength(3)
})

test('a run whose message cannot be sent holds up none of those in its job, and the log says why', async () => {
  await world.publish(aDefinition({ steps: [wait('w', 'PT1H'), anEmail('m')] }))
  const event = (customerId: string) =>
    orderEvent('order.placed', START, { id: customerId, customerId }, { id: customerId, email: `${customerId}@example.org` }) // prettier-ignore
  await world.post(event('c1'), event('c2'), event('c3'))
  await world.db.execute(`create function raise_for_c2() returns trigger language plpgsql as $$
    begin if new.customer_id = 'c2' then raise 'out of order'; end if; return new; end $$`)
  await world.db.execute(`create trigger raise_for_c2 before update on messages
    for each row execute function raise_for_c2()`)
  await world.moveTo(START + HOUR_MS)
  expect((await world.mails()).map(({ to }) => to)).toEqual(['c1@example.org', 'c3@example.org'])
  expect(world.complaints).toContainEqual(expect.stringMatching(/messages of run 2 were not sent/))
  await world.db.execute('drop function raise_for_c2 cascade')
  await world.db.execute('select graphile_worker.reschedule_jobs(array(select id from graphile_worker.jobs), now())') // prettier-ignore
  await world.settle()
  expect(await world.mails()).toHaveLength(3)
})

test('one shop’s storm goes behind the work of others, and starts go before sends', async () => {
  const job = (shopId: string, name: 'startRuns' | 'sendMessages') =>
    name === 'startRuns'
      ? { name, payload: { shopId, seqs: Array.from({ length: 100 }, (_, index) => index) } }
      : { name, payload: { shopId, runIds: Array.from({ length: 100 }, (_, index) => index) } }
  const { db } = world
  await addJobs(
    db,
    Array.from({ length: 20 }, () => job('storm', 'sendMessages')),
  )
  await addJobs(
    db,
    Array.from({ length: 20 }, () => job('storm', 'startRuns')),
  )
  await addJobs(db, [job('quiet', 'sendMessages')])
  await addJobs(db, [job('quiet', 'startRuns')])
  const { rows } = await db.execute<{ what: string }>(`
    select (select payload->>'shopId' from graphile_worker._private_jobs p where p.id = j.id) || ' ' || task_identifier as what
    from graphile_worker.jobs j order by priority, run_at, id`) // prettier-ignore
  const order = rows.map(({ what }) => what)
  // Each shop's first share is due at once, whoever came first.
  expect(order.slice(0, 2).toSorted()).toEqual(['quiet startRuns', 'storm startRuns'])
  expect(order.indexOf('quiet sendMessages')).toBeLessThan(8)
  expect(order.slice(8).every((what) => what.startsWith('storm'))).toBe(true)
  await db.execute(
    `select graphile_worker.complete_jobs(array(select id from graphile_worker.jobs))`,
  )
})
