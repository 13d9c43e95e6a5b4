import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { formatInstant } from '../../core/shared/time.ts'
import type { Step } from '../../core/workflow/steps.ts'
import {
  aCart,
  aCustomer,
  aDefinition,
  anEmail,
  aSubscription,
  at,
  beforePayment,
  eventOf,
  on,
  orderEvent,
  START,
  wait,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { createWorkflow, goLive } from '../../backend/workflows/index.ts'
import { startOfToday } from '../../core/shared/localTime.ts'
import { passedOverToday } from './sweepDates.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const kinds = async () => (await world.ledger()).map(({ kind }) => kind)
const sentAt = async () =>
  (await world.mails()).map(({ subject, date }) => `${formatInstant(date)} ${subject}`)
const mail = (key: string) => anEmail(key, { subject: key, body: 'Hello' })

test('a message that is held leaves at the hour and weekday of its own wait, and holds its place in the order', async () => {
  await world.db.execute(
    sql`update shops set message_gap = 'PT20H', quiet_from = '21:00', quiet_to = '08:00'`,
  )
  const ask: Step = { key: 'w', kind: 'wait', for: 'P1D', at: '17:00' }
  const review = anEmail('review', { purpose: 'marketing', subject: 'review', body: 'Hello' })
  const news = anEmail('news', { purpose: 'marketing', subject: 'news', body: 'Hello' })
  await world.publish(aDefinition({ steps: [ask, review] }))
  await world.publish(aDefinition({ trigger: on('order.fulfilled'), steps: [news] }))
  await world.post(orderEvent('order.placed', START))
  await world.moveTo(at('2026-04-15T10:00:00Z'))
  await world.post(orderEvent('order.fulfilled', at('2026-04-15T10:00:00Z')))
  await world.moveTo(at('2026-04-18T10:00:00Z'))
  // The gap is over at seven of the next morning; it was set to five in the afternoon.
  expect(await sentAt()).toEqual(['2026-04-15T10:00:00Z news', '2026-04-16T16:00:00Z review'])
})

describe('waits', () => {
  test('until a local hour on a weekday, where the recipient lives', async () => {
    const next: Step = {
      key: 'w',
      kind: 'wait',
      for: 'P1D',
      at: '11:00',
      weekdays: [1, 2, 3, 4, 5],
    }
    await world.publish(aDefinition({ steps: [next, mail('next')] }))
    const friday = at('2026-04-17T20:00:00Z')
    await world.moveTo(friday)
    await world.post(
      orderEvent(
        'order.placed',
        friday,
        { id: 'a', customerId: 'nz' },
        { zone: 'Pacific/Auckland' },
      ),
      orderEvent('order.placed', friday, { id: 'b', customerId: 'pt' }),
    )
    await world.moveTo(at('2026-04-22T00:00:00Z'))
    // In Auckland it is Saturday already: Monday 11:00 there is Sunday 23:00 UTC.
    expect(await sentAt()).toEqual(['2026-04-19T23:00:00Z next', '2026-04-20T10:00:00Z next'])
  })

  test('who moves to another zone during a wait is gone on with when it was to end; quiet hours are those there', async () => {
    await world.db.execute(sql`update shops set quiet_from = '21:00', quiet_to = '08:00'`)
    const next: Step = { key: 'w', kind: 'wait', for: 'P1D', at: '11:00' }
    const news = anEmail('news', { purpose: 'marketing', subject: 'news', body: 'Hello' })
    await world.publish(aDefinition({ steps: [next, mail('receipt'), news] }))
    await world.post(orderEvent('order.placed', START, {}, { zone: 'Europe/Lisbon' }))
    await world.moveTo(START + HOUR_MS)
    const moved = aCustomer({ zone: 'Pacific/Auckland' })
    await world.post(eventOf('customer.changed', START + HOUR_MS, { customer: moved }))
    await world.moveTo(START + 5 * DAY_MS)
    // Eleven in Lisbon is ten in the evening in Auckland, in the quiet hours: it leaves at eleven there.
    expect(await sentAt()).toEqual(['2026-04-15T10:00:00Z receipt', '2026-04-15T23:00:00Z news'])
  })

  test('until two days before a class, and what becomes of it when the class is moved', async () => {
    const steps: Step[] = [
      {
        key: 'u',
        kind: 'until',
        until: {
          kind: 'field',
          field: 'order.firstDate',
          offset: { direction: 'before', duration: 'P2D' },
          at: '09:00',
        },
        ifPast: 'skipNext',
      },
      mail('two days before'),
      mail('after'),
    ]
    await world.publish(aDefinition({ steps }))
    const withClass = (startsAt: string) => ({
      lines: [{ productId: 'class', title: 'Class', quantity: 1, unitPriceMinor: 7500, startsAt }],
    })
    await world.post(orderEvent('order.placed', START, withClass('2026-05-09T09:00:00Z')))
    await world.moveTo(START + DAY_MS)
    await world.post(orderEvent('order.paid', START + DAY_MS, withClass('2026-05-05T09:00:00Z')))
    await world.moveTo(at('2026-05-20T00:00:00Z'))
    expect(await sentAt()).toEqual([
      '2026-05-03T08:00:00Z two days before',
      '2026-05-03T08:00:00Z after',
    ])
  })

  test('a date that is past already: the next message is passed over, the one after it goes', async () => {
    const steps: Step[] = [
      {
        key: 'u',
        kind: 'until',
        until: { kind: 'fixed', date: '2026-04-01', at: '09:00' },
        ifPast: 'skipNext',
      },
      mail('early'),
      mail('later'),
    ]
    await world.publish(aDefinition({ steps }))
    await world.post(orderEvent('order.placed', START))
    expect(await sentAt()).toEqual(['2026-04-14T09:20:00Z later'])
    expect(await kinds()).toEqual(['entered', 'datePast', 'skipped', 'sends', 'ended', 'sent'])
  })

  test('for an event up to a limit: those it came to, and the others', async () => {
    const steps: Step[] = [
      wait('w0', 'PT30M'),
      {
        key: 'f',
        kind: 'waitFor',
        event: 'order.placed',
        about: 'customer',
        where: {
          kind: 'field',
          field: 'order.total',
          op: 'gte',
          value: { amountMinor: 5000, currency: 'EUR' },
        },
        limit: 'P1D',
        came: [mail('ordered')],
        otherwise: [mail('did not')],
      },
    ]
    await world.publish(aDefinition({ trigger: on('checkout.started'), steps }))
    const checkout = (id: string, customerId: string) =>
      eventOf('checkout.started', START, {
        checkout: aCart({ id, customerId }),
        customer: aCustomer({ id: customerId, email: `${customerId}@example.org` }),
      })
    await world.post(checkout('k1', 'c1'), checkout('k2', 'c2'), checkout('k3', 'c3'))
    // Between entry and the wait counts; too small does not; in time does.
    await world.moveTo(START + 10 * MINUTE_MS)
    await world.post(
      orderEvent(
        'order.placed',
        START + 10 * MINUTE_MS,
        { id: 'o1', customerId: 'c1', totalMinor: 9900 },
        null,
      ),
    )
    await world.moveTo(START + 2 * HOUR_MS)
    await world.post(
      orderEvent(
        'order.placed',
        START + 2 * HOUR_MS,
        { id: 'o2', customerId: 'c2', totalMinor: 1000 },
        null,
      ),
    )
    await world.moveTo(START + 5 * HOUR_MS)
    await world.post(
      orderEvent(
        'order.placed',
        START + 5 * HOUR_MS,
        { id: 'o3', customerId: 'c3', totalMinor: 5000 },
        null,
      ),
    )
    await world.moveTo(START + 3 * DAY_MS)
    expect(
      (await world.mails()).map(({ subject, to, date }) => [to, subject, date - START]),
    ).toEqual([
      ['c1@example.org', 'ordered', 30 * MINUTE_MS],
      ['c3@example.org', 'ordered', 5 * HOUR_MS],
      ['c2@example.org', 'did not', DAY_MS + 30 * MINUTE_MS],
    ])
    const waits = (await world.ledger()).filter((one) => one.kind === 'waits' && one.step === 'f')
    expect(waits).toHaveLength(2)
  })
})

describe('date triggers', () => {
  const reminder = {
    kind: 'date' as const,
    field: 'subscription.nextPaymentAt',
    direction: 'before' as const,
    days: 7,
    at: '09:00',
    zone: 'recipient' as const,
    filter: { kind: 'field' as const, field: 'subscription.automatic', op: 'is', value: true },
  }
  const subscription = (over: object, customer: object = {}) =>
    eventOf('subscription.created', START, {
      subscription: aSubscription({ nextPaymentAt: '2026-05-01T12:00:00Z', ...over }),
      customer: aCustomer({ id: 'c1', ...customer }),
    })

  test('go off once, days before, at the hour of the recipient', async () => {
    await world.publish(aDefinition({ trigger: reminder, steps: [mail('reminder')] }))
    await world.post(
      subscription({ id: 's1' }),
      subscription({ id: 's2', customerId: 'c2' }, { id: 'c2', zone: 'Pacific/Auckland' }),
      subscription({ id: 's3', customerId: 'c3', automatic: false }, { id: 'c3' }),
    )
    await world.moveTo(at('2026-05-10T00:00:00Z'))
    // 1 May 12:00 UTC is 2 May in Auckland, where clocks are twelve hours ahead.
    expect(await sentAt()).toEqual([
      '2026-04-24T08:00:00Z reminder',
      '2026-04-24T21:00:00Z reminder',
    ])
    const entries = (await world.ledger()).filter(
      ({ kind }) => kind === 'entered' || kind === 'turnedAway',
    )
    expect(entries).toMatchObject([
      { cause: { by: 'date', date: at('2026-05-01T12:00:00Z') } },
      { kind: 'turnedAway', reason: { code: 'filter' } },
      { cause: { by: 'date' } },
    ])
  })

  test('a date that moves counts anew; one that is moved back does not', async () => {
    await world.publish(aDefinition({ trigger: reminder, steps: [mail('reminder')] }))
    await world.post(subscription({}))
    await world.moveTo(at('2026-04-25T00:00:00Z'))
    const moved = (nextPaymentAt: string, time: string) =>
      eventOf('subscription.changed', at(time), { subscription: aSubscription({ nextPaymentAt }) })
    await world.post(moved('2026-05-12T12:00:00Z', '2026-04-25T00:00:00Z'))
    await world.moveTo(at('2026-05-06T00:00:00Z'))
    await world.post(moved('2026-05-01T12:00:00Z', '2026-05-06T00:00:00Z'))
    await world.moveTo(at('2026-06-01T00:00:00Z'))
    expect(await sentAt()).toEqual([
      '2026-04-24T08:00:00Z reminder',
      '2026-05-05T08:00:00Z reminder',
    ])
  })

  test('on the day itself, at an hour later than the date’s own: it goes, and is made up for until the day is over', async () => {
    const publish = () =>
      world.publish(aDefinition({ trigger: beforePayment({ days: 0 }), steps: [mail('today')] }))
    await publish()
    const midnight = at('2026-04-15T23:00:00Z')
    const pays = (id: string, nextPaymentAt: number) =>
      eventOf('subscription.created', START, { subscription: aSubscription({ id, customerId: id, nextPaymentAt: formatInstant(nextPaymentAt) }), customer: { id, email: `${id}@example.org` } }) // prettier-ignore
    await world.post(pays('a', midnight), pays('b', midnight + 2 * DAY_MS), pays('c', midnight + 5 * DAY_MS)) // prettier-ignore
    await world.moveTo(at('2026-04-16T12:00:00Z'))
    expect(await sentAt()).toEqual(['2026-04-16T08:00:00Z today'])
    // Nobody is at work at nine of the 18th, but before its end somebody is.
    await world.jumpTo(at('2026-04-18T20:00:00Z'))
    await world.settle()
    expect(await world.mails()).toHaveLength(2)
    // Of the 21st nobody hears on the 22nd.
    await world.jumpTo(at('2026-04-22T07:00:00Z'))
    await world.settle()
    expect(await world.mails()).toHaveLength(2)
  })

  test('going live after the hour of the day says whom it passes over, and can let them in', async () => {
    const definition = aDefinition({ trigger: beforePayment({ days: 1 }), steps: [mail('soon')] })
    const id = await createWorkflow(world.db, SHOP, definition)
    const due = aSubscription({ nextPaymentAt: formatInstant(START + DAY_MS) })
    await world.post(eventOf('subscription.created', START, { subscription: due, customer: { id: 'c1', email: 'ines@example.org' } })) // prettier-ignore
    expect(await passedOverToday(world.db, SHOP, id, definition)).toEqual({ people: 1, firstAt: at('2026-04-14T08:00:00Z') }) // prettier-ignore
    await goLive(world.db, SHOP, id, 0, 'tester', { datesFrom: startOfToday(START, 'Europe/Lisbon') }) // prettier-ignore
    await world.settle()
    expect(await sentAt()).toEqual([`${formatInstant(START)} soon`])
    // Whoever has been let in is passed over no more.
    expect(await passedOverToday(world.db, SHOP, id, definition)).toMatchObject({ people: 0 })
  })

  test('what was missed is made up for while the date has not passed; a moment before going live is not', async () => {
    await world.post(
      subscription({}),
      subscription({ id: 's2', nextPaymentAt: '2026-04-18T12:00:00Z' }),
    )
    await world.publish(aDefinition({ trigger: reminder, steps: [mail('reminder')] }))
    await world.settle()
    // Nothing ran for twelve days: the clock was put forward while the worker was away.
    await world.jumpTo(at('2026-04-26T10:00:00Z'))
    await world.settle()
    expect(await sentAt()).toEqual(['2026-04-26T10:00:00Z reminder'])
    await world.settle()
    expect(await world.mails()).toHaveLength(1)
  })

  test('after a date: made up for within three days', async () => {
    const after = {
      ...reminder,
      field: 'customer.lastOrderAt',
      direction: 'after' as const,
      days: 30,
      filter: undefined,
    }
    const { filter: _none, ...trigger } = after
    await world.publish(aDefinition({ trigger, steps: [mail('we miss you')] }))
    await world.post(
      orderEvent('order.placed', START, { id: 'o1', customerId: 'c1' }),
      orderEvent('order.placed', START - 5 * DAY_MS, { id: 'o2', customerId: 'c2' }),
    )
    await world.jumpTo(START + 32 * DAY_MS)
    await world.settle()
    expect((await world.mails()).map(({ subject }) => subject)).toEqual(['we miss you'])
    expect((await world.ledger())[0]?.kind).toBe('entered')
  })
})

test('a paused workflow starts nothing, and dates that fell in the pause are not made up for', async () => {
  const id = await world.publish(
    aDefinition({
      trigger: {
        kind: 'date',
        field: 'customer.createdAt',
        direction: 'after',
        days: 1,
        at: '09:00',
        zone: 'shop',
      },
      steps: [mail('welcome')],
    }),
  )
  await world.post(eventOf('customer.created', START, { customer: aCustomer() }))
  await world.pause(id)
  await world.moveTo(START + 2 * DAY_MS)
  await world.resume(id)
  await world.moveTo(START + 4 * DAY_MS)
  expect(await world.mails()).toEqual([])
})
