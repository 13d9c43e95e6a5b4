import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { deadAddresses } from '../../backend/shop/tables.ts'
import { pauseWorkflow, resumeWorkflow } from '../../backend/workflows/index.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import {
  aDefinition,
  anEmail,
  at,
  happened,
  orderEvent,
  START,
  thanksDefinition,
  wait,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const subjects = async () => (await world.mails()).map(({ to, subject }) => `${to}: ${subject}`)
const kinds = async () => (await world.ledger()).map(({ kind }) => kind)

describe('from an order event to the right message', () => {
  test('a first order is thanked after 20 minutes, at that very time', async () => {
    await world.publish(thanksDefinition())
    await world.post(orderEvent('order.placed', START))
    expect(await world.mails()).toEqual([])
    await world.moveTo(START + HOUR_MS)
    expect(await world.mails()).toMatchObject([
      { to: 'ines@example.org', subject: 'First: 1001', date: START + 20 * MINUTE_MS },
    ])
    expect(await kinds()).toEqual(['entered', 'tookBranch', 'waits', 'sends', 'ended', 'sent'])
  })

  test('first and second order get their own mail, the third none, a refunded one none', async () => {
    await world.publish(thanksDefinition())
    const order = (number: number, customerId: string) => ({
      id: `o${number}`,
      number: String(number),
      customerId,
    })
    await world.post(orderEvent('order.placed', START, order(1, 'c1')))
    await world.moveTo(START + DAY_MS)
    await world.post(orderEvent('order.placed', START + DAY_MS, order(2, 'c1')))
    await world.moveTo(START + 2 * DAY_MS)
    await world.post(orderEvent('order.placed', START + 2 * DAY_MS, order(3, 'c1')))
    await world.post(
      orderEvent('order.placed', START + 2 * DAY_MS, order(4, 'c2'), { email: 'rui@example.org' }),
    )
    await world.moveTo(START + 2 * DAY_MS + 5 * MINUTE_MS)
    await world.post(
      orderEvent('order.refunded', START + 2 * DAY_MS + 5 * MINUTE_MS, order(4, 'c2'), null),
    )
    await world.moveTo(START + 4 * DAY_MS)
    expect(await subjects()).toEqual(['ines@example.org: First: 1', 'ines@example.org: Second: 2'])
    const left = (await world.ledger()).filter(({ kind }) => kind === 'left')
    expect(left).toMatchObject([
      {
        step: 'thanks1',
        exclusion: 'refunded',
        observed: [{ event: 'order.refunded', lastAt: START + 2 * DAY_MS + 5 * MINUTE_MS }],
      },
    ])
  })

  test('events out of order and twice give the same mails', async () => {
    await world.publish(thanksDefinition())
    const first = orderEvent('order.placed', START - 10 * MINUTE_MS, { id: 'o1', number: '1' })
    const second = orderEvent('order.placed', START - 5 * MINUTE_MS, { id: 'o2', number: '2' })
    const refunded = orderEvent(
      'order.refunded',
      START - MINUTE_MS,
      { id: 'o9', number: '9', customerId: 'c9' },
      { email: 'nine@example.org' },
    )
    const placed = orderEvent(
      'order.placed',
      START - 3 * MINUTE_MS,
      { id: 'o9', number: '9', customerId: 'c9' },
      { email: 'nine@example.org' },
    )
    const receipts = await world.post(second, first, refunded, second, placed)
    expect(receipts.map(({ status }) => status)).toEqual([
      'accepted',
      'accepted',
      'accepted',
      'duplicate',
      'accepted',
    ])
    expect((await world.post(first, placed)).map(({ status }) => status)).toEqual([
      'duplicate',
      'duplicate',
    ])
    await world.moveTo(START + DAY_MS)
    // A batch means the same as its events one by one, in order of time.
    expect(await subjects()).toEqual(['ines@example.org: First: 1', 'ines@example.org: Second: 2'])
    expect((await kinds()).filter((kind) => kind === 'entered')).toHaveLength(3)
    expect((await kinds()).filter((kind) => kind === 'left')).toHaveLength(1)
  })

  test('an order whose refund came in before it starts nothing', async () => {
    await world.publish(thanksDefinition())
    await world.post(orderEvent('order.refunded', START - MINUTE_MS))
    await world.post(orderEvent('order.placed', START - HOUR_MS))
    expect(await world.ledger()).toMatchObject([
      { kind: 'turnedAway', reason: { code: 'exclusion', exclusion: 'refunded' } },
    ])
  })

  test('an older state that arrives late does not overwrite a newer one', async () => {
    await world.post(orderEvent('order.refunded', START - MINUTE_MS, { id: 'o1', totalMinor: 100 }))
    await world.post(
      orderEvent('order.placed', START - HOUR_MS, { id: 'o1', totalMinor: 999 }, null),
    )
    const { rows } = await world.db.execute('select status, total_minor, placed_at from orders')
    expect(rows).toEqual([{ status: 'refunded', total_minor: 100, placed_at: START - HOUR_MS }])
  })

  test('all that falls due while the clock moves happens in order, each at its own time', async () => {
    await world.publish(
      aDefinition({ steps: [wait('w1', 'PT3H'), anEmail('a'), wait('w2', 'P1D'), anEmail('b')] }),
    )
    await world.post(
      orderEvent('order.placed', START - HOUR_MS, { id: 'o1', number: '1', customerId: 'c1' }),
    )
    await world.post(orderEvent('order.placed', START, { id: 'o2', number: '2', customerId: 'c2' }))
    await world.moveTo(START + 2 * DAY_MS)
    const mails = await world.mails()
    expect(mails.map(({ subject, date }) => [subject, (date - START) / HOUR_MS])).toEqual([
      ['About 1', 2],
      ['About 2', 3],
      ['About 1', 26],
      ['About 2', 27],
    ])
  })

  test('two messages at one moment leave in the order of the steps', async () => {
    await world.publish(
      aDefinition({ steps: [anEmail('a', { subject: 'One' }), anEmail('b', { subject: 'Two' })] }),
    )
    await world.post(orderEvent('order.placed', START))
    expect((await world.mails()).map(({ subject }) => subject)).toEqual(['One', 'Two'])
  })

  test('over a change of clocks, eleven stays eleven', async () => {
    await world.moveTo(at('2026-10-24T09:00:00Z'))
    await world.publish(aDefinition({ steps: [wait('w', 'P1D'), anEmail('a')] }))
    await world.post(
      orderEvent('order.placed', at('2026-10-24T09:00:00Z'), {}, { zone: 'Europe/Berlin' }),
    )
    await world.moveTo(at('2026-10-26T00:00:00Z'))
    expect((await world.mails())[0]?.date).toBe(at('2026-10-25T10:00:00Z'))
  })
})

describe('rules', () => {
  test('once ever holds, also for events that come in one batch', async () => {
    await world.publish(aDefinition({ entry: { rule: { kind: 'once' }, overlap: 'allow' } }))
    await world.post(
      ...[1, 2, 3].map((one) =>
        orderEvent('order.placed', START - one * MINUTE_MS, { id: `o${one}`, number: `${one}` }),
      ),
    )
    expect(await subjects()).toEqual(['ines@example.org: About 3'])
    expect(await kinds()).toEqual(expect.arrayContaining(['turnedAway', 'turnedAway', 'entered']))
  })

  test('highest priority goes first', async () => {
    await world.publish(aDefinition({ priority: 10, steps: [anEmail('a', { subject: 'Low' })] }))
    await world.publish(aDefinition({ priority: 90, steps: [anEmail('a', { subject: 'High' })] }))
    await world.post(orderEvent('order.placed', START))
    expect((await world.ledger()).filter(({ kind }) => kind === 'entered')).toHaveLength(2)
    expect((await world.mails()).map(({ subject }) => subject)).toEqual(['High', 'Low'])
  })

  test('skip passes over one message and goes on', async () => {
    const steps = [wait('w1', 'PT1H'), anEmail('a'), wait('w2', 'PT1H'), anEmail('b')]
    const onlyPaid = { kind: 'not' as const, of: happened('order.paid') }
    await world.publish(
      aDefinition({ steps, exclusions: [{ key: 'unpaid', when: onlyPaid, effect: 'skip' }] }),
    )
    await world.post(orderEvent('order.placed', START))
    await world.moveTo(START + 90 * MINUTE_MS)
    await world.post(orderEvent('order.paid', START + 90 * MINUTE_MS))
    await world.moveTo(START + DAY_MS)
    expect(await kinds()).toEqual([
      'entered',
      'waits',
      'skipped',
      'waits',
      'sends',
      'ended',
      'sent',
    ])
  })

  test('marketing goes with consent only, with a way out in header and text', async () => {
    await world.publish(
      aDefinition({ steps: [anEmail('a', { purpose: 'marketing', format: 'letter' })] }),
    )
    await world.post(orderEvent('order.placed', START, { id: 'o1', customerId: 'c1' }))
    await world.post(
      orderEvent(
        'order.placed',
        START,
        { id: 'o2', customerId: 'c2' },
        { emailConsent: null, email: 'no@example.org' },
      ),
    )
    expect(await subjects()).toEqual(['ines@example.org: About 1001'])
    const { rows } = await world.db.execute('select headers, plain, html from mails')
    const headers = JSON.stringify(rows[0]?.['headers'])
    expect(headers).toContain('List-Unsubscribe=One-Click')
    expect(headers).toMatch(/<http:\/\/localhost\/u\/[\w.-]+>/)
    expect(rows[0]?.['plain']).toMatch(/No more of these: http/)
    expect(rows[0]?.['html']).toContain('/u/')
  })

  test('a message that cannot be rendered is kept for repair, not sent half empty', async () => {
    await world.publish(
      aDefinition({ steps: [anEmail('a', { body: 'See {{ order.number | nosuchfilter }}' })] }),
    )
    await world.post(orderEvent('order.placed', START))
    expect(await subjects()).toEqual([])
    expect((await world.ledger()).find(({ kind }) => kind === 'failed')).toMatchObject({
      step: 'a',
      error: expect.stringContaining('undefined filter'),
    })
  })

  test('an address that does not exist is noted and not written to again', async () => {
    await world.publish(aDefinition())
    const who = { email: 'bounce@example.net' }
    await world.post(orderEvent('order.placed', START, { id: 'o1' }, who))
    await world.post(orderEvent('order.placed', START, { id: 'o2' }, who))
    expect(await kinds()).toEqual([
      'entered',
      'sends',
      'ended',
      'failed',
      'entered',
      'skipped',
      'ended',
    ])
    const [dead] = await world.db.select().from(deadAddresses)
    expect(dead).toMatchObject({ shopId: SHOP, address: 'bounce@example.net' })
  })
})

describe('pause', () => {
  test('holds what is due and lets nobody in; resuming sends what is overdue', async () => {
    const id = await world.publish(aDefinition({ steps: [wait('w', 'PT1H'), anEmail('a')] }))
    await world.post(orderEvent('order.placed', START, { id: 'o1', number: '1' }))
    await pauseWorkflow(world.db, SHOP, id)
    await world.moveTo(START + DAY_MS)
    await world.post(orderEvent('order.placed', START + DAY_MS, { id: 'o2', number: '2' }))
    expect(await subjects()).toEqual([])
    await resumeWorkflow(world.db, SHOP, id)
    await world.settle()
    await world.moveTo(START + 3 * DAY_MS)
    expect(await subjects()).toEqual(['ines@example.org: About 1'])
  })
})
