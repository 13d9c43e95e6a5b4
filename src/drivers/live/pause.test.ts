import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { goLive, saveDraft } from '../../backend/workflows/index.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Step } from '../../core/workflow/steps.ts'
import { aDefinition, anEmail, happened, orderEvent, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { overdueIn } from './overdue.ts'
import { moveToLiveVersion } from './bulk/moveToLiveVersion.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const subjects = async () => (await world.mails()).map(({ subject }) => subject)
const kinds = async () => (await world.ledger()).map(({ kind }) => kind)
const mail = (key: string, over: object = {}) =>
  anEmail(key, { subject: key, body: 'Hello', ...over })

async function publishAgain(id: string, revision: number, definition: Definition): Promise<void> {
  await saveDraft(world.db, SHOP, id, revision, definition)
  await goLive(world.db, SHOP, id, revision + 1, 'tester')
}

describe('pause and resume', () => {
  const steps = [
    wait('w', 'P1D'),
    mail('one'),
    wait('x', 'P2D'),
    mail('two'),
    wait('y', 'P4D'),
    mail('three'),
  ]

  test('what is overdue is sent, or left out when it is too late; the rhythm of the rest stays', async () => {
    const id = await world.publish(aDefinition({ steps }))
    await world.post(orderEvent('order.placed', START))
    await world.pause(id)
    await world.moveTo(START + 3 * DAY_MS + 12 * HOUR_MS)
    expect(await overdueIn(world.db, world.programs, SHOP, id)).toEqual({
      overdue: 1,
      leaving: 0,
      oldestAt: START + DAY_MS,
    })
    await world.resume(id, { skipLaterThanHours: 24 })
    expect(await subjects()).toEqual(['two'])
    expect((await world.ledger()).find(({ kind }) => kind === 'skipped')).toMatchObject({
      step: 'one',
      reason: { code: 'tooLate' },
    })
    await world.moveTo(START + 20 * DAY_MS)
    // The wait after "two" counts from the moment it left.
    expect((await world.mails()).map(({ date }) => date - START)).toEqual([
      3.5 * DAY_MS,
      7.5 * DAY_MS,
    ])
  })

  test('whoever would leave anyway, or waits for something that has come, is told apart beforehand', async () => {
    const ordered = {
      key: 'x',
      when: { ...happened('order.placed'), about: 'customer' } as Condition,
      effect: 'leave' as const,
    }
    const waitFor: Step = { key: 'f', kind: 'waitFor', event: 'order.paid', about: 'subject', limit: 'P9D', came: [mail('paid')], otherwise: [] } // prettier-ignore
    const id = await world.publish(aDefinition({ exclusions: [ordered], steps: [wait('w', 'P1D'), mail('one'), waitFor] })) // prettier-ignore
    await world.post(...['c1', 'c2', 'c3', 'c4'].map((who) => orderEvent('order.placed', START, { id: who, customerId: who }, { id: who, email: `${who}@example.org` }))) // prettier-ignore
    await world.moveTo(START + DAY_MS + HOUR_MS)
    expect(await world.mails()).toHaveLength(4)
    await world.pause(id)
    await world.post(
      orderEvent('order.placed', START + DAY_MS + HOUR_MS, { id: 'c1-2', customerId: 'c1' }),
      orderEvent('order.paid', START + DAY_MS + HOUR_MS, { id: 'c1', customerId: 'c1' }),
      orderEvent('order.paid', START + DAY_MS + HOUR_MS, { id: 'c2', customerId: 'c2' }),
    )
    await world.settle()
    const asked = await overdueIn(world.db, world.programs, SHOP, id)
    expect(asked).toMatchObject({ overdue: 1, leaving: 1 })
    const before = await world.ledger()
    expect(await overdueIn(world.db, world.programs, SHOP, id)).toEqual(asked)
    expect(await world.ledger()).toEqual(before)
    await world.resume(id)
    expect((await world.mails()).filter(({ subject }) => subject === 'paid')).toHaveLength(1)
    expect((await kinds()).filter((kind) => kind === 'left')).toHaveLength(1)
  })

  test('what is mended in a pause is published without letting anybody go on; moved, they get it mended', async () => {
    const id = await world.publish(
      aDefinition({ steps: [wait('w', 'P2D'), mail('wrong'), wait('x', 'P3D'), mail('last')] }),
    )
    await world.post(
      orderEvent('order.placed', START, { id: 'o1', customerId: 'c1' }),
      orderEvent('order.placed', START, { id: 'o2', customerId: 'c2' }, { email: 'rui@example.org' }), // prettier-ignore
    )
    await world.moveTo(START + DAY_MS)
    await world.pause(id)
    await world.moveTo(START + 6 * DAY_MS)
    await publishAgain(
      id,
      0,
      aDefinition({ steps: [wait('w', 'P4D'), mail('mended'), wait('x', 'P30D'), mail('last')] }),
    )
    await world.moveTo(START + 6 * DAY_MS + HOUR_MS)
    expect(await subjects()).toEqual([])
    const moved = await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren')
    expect(moved).toEqual({ moved: 2, stay: 0, left: 0 })
    // By the wait of the new version.
    expect(await overdueIn(world.db, world.programs, SHOP, id)).toEqual({ overdue: 2, leaving: 0, oldestAt: START + 4 * DAY_MS }) // prettier-ignore
    expect(await subjects()).toEqual([])
    await world.resume(id)
    expect(await subjects()).toEqual(['mended', 'mended'])
  })

  test('a wait that is reckoned anew in a pause may end later: then nothing is overdue', async () => {
    const id = await world.publish(aDefinition({ steps: [wait('w', 'P1D'), mail('m')] }))
    await world.post(orderEvent('order.placed', START))
    await world.pause(id)
    await world.moveTo(START + 2 * DAY_MS)
    await publishAgain(id, 0, aDefinition({ steps: [wait('w', 'P5D'), mail('m')] }))
    await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren')
    expect(await overdueIn(world.db, world.programs, SHOP, id)).toMatchObject({ overdue: 0 })
    expect((await world.ledger()).at(-1)).toMatchObject({
      kind: 'waits',
      until: START + 5 * DAY_MS,
    })
    await world.resume(id, { skipLaterThanHours: 0 })
    await world.moveTo(START + 6 * DAY_MS)
    expect((await world.mails()).map(({ date }) => date - START)).toEqual([5 * DAY_MS])
  })

  test('moved in a pause to a date that is past, they do what the new version says of that', async () => {
    const until = (date: string, ifPast: 'goOn' | 'skipNext'): Step => ({
      key: 'u',
      kind: 'until',
      until: { kind: 'fixed', date, at: '09:00' },
      ifPast,
    })
    const id = await world.publish(
      aDefinition({ steps: [until('2026-04-23', 'goOn'), mail('m'), mail('n')] }),
    )
    await world.post(orderEvent('order.placed', START))
    await world.pause(id)
    await world.moveTo(START + 5 * DAY_MS)
    await publishAgain(
      id,
      0,
      aDefinition({ steps: [until('2026-04-16', 'skipNext'), mail('m'), mail('n')] }),
    )
    await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren')
    expect(await overdueIn(world.db, world.programs, SHOP, id)).toEqual({
      overdue: 1,
      leaving: 0,
      oldestAt: null,
    })
    await world.resume(id)
    expect(await subjects()).toEqual(['n'])
  })

  test('an event that came in the pause is seen when a run that waits for it goes on', async () => {
    const id = await world.publish(
      aDefinition({
        steps: [
          {
            key: 'f',
            kind: 'waitFor',
            event: 'order.delivered',
            about: 'subject',
            limit: 'P30D',
            came: [mail('arrived')],
            otherwise: [],
          },
        ],
      }),
    )
    await world.post(orderEvent('order.placed', START))
    await world.pause(id)
    await world.moveTo(START + DAY_MS)
    await world.post(orderEvent('order.delivered', START + DAY_MS))
    expect(await subjects()).toEqual([])
    await world.resume(id)
    expect(await subjects()).toEqual(['arrived'])
  })
})
