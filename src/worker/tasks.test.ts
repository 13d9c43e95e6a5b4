import { afterEach, beforeEach, expect, test } from 'vitest'
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
