import { describe, expect, test } from 'vitest'
import { aCustomer, orderEvent, START } from '../../testing/builders.ts'
import { readCloudEvent } from './cloudEvent.ts'
import { emailAddress } from './entities.ts'

const good = orderEvent('order.placed', START)

/** CloudEvents 1.0 section 2.1: required attributes are non-empty; names are [a-z0-9]. */
describe('what is refused, and where', () => {
  test.each([
    ['nothing', null, '(the event itself)'],
    ['an empty source', { ...good, source: '' }, 'source'],
    ['no id', { ...good, id: undefined }, 'id'],
    ['an empty id', { ...good, id: '' }, 'id'],
    ['another version', { ...good, specversion: '0.2' }, 'specversion'],
    ['an unknown type', { ...good, type: 'order.eaten' }, 'type'],
    ['a time that is none', { ...good, time: 'yesterday' }, 'time'],
    ['a time without offset', { ...good, time: '2026-03-08T11:00:00' }, 'time'],
    ['a bad attribute name', { ...good, bad_Ext: 'x' }, 'bad_Ext'],
    ['no data', { ...good, data: undefined }, 'data'],
    [
      'no lines',
      { ...good, data: { order: { ...good.data.order, lines: [] } } },
      'data.order.lines',
    ],
    [
      'a bad currency',
      { ...good, data: { order: { ...good.data.order, currency: 'euro' } } },
      'data.order.currency',
    ],
    [
      'a fraction of a cent',
      { ...good, data: { order: { ...good.data.order, totalMinor: 1.5 } } },
      'data.order.totalMinor',
    ],
    [
      'another customer',
      { ...good, data: { ...good.data, customer: aCustomer({ id: 'c9' }) } },
      'data.customer.id',
    ],
    ['a customer without data', { ...good, type: 'customer.created' }, 'data.customer.id'],
  ])('%s', (what, input, path) => {
    const result = readCloudEvent(
      what === 'a customer without data' ? { ...(input as object), data: { customer: {} } } : input,
    )
    expect(result).toMatchObject({ ok: false, problems: [expect.objectContaining({ path })] })
  })

  test('a good one is taken, with extensions and without time', () => {
    const { time: _time, ...rest } = good
    expect(readCloudEvent({ ...rest, traceid: 'abc' })).toMatchObject({ ok: true })
  })

  test('every problem is named at once', () => {
    const result = readCloudEvent({
      ...good,
      data: { order: { ...good.data.order, number: '', currency: 'x' } },
    })
    const paths = result.ok ? [] : result.problems.map(({ path }) => path)
    expect(paths).toEqual(expect.arrayContaining(['data.order.number', 'data.order.currency']))
  })
})

/** RFC 5321 section 4.5.3.1 lengths, RFC 5322 section 3.4 grammar, RFC 6531 characters. */
describe('addresses', () => {
  const long = 'a'.repeat(64)
  test.each([
    'a@b.co', 'first.last+tag@sub.example.com', "o'brien@example.ie", 'user%x@example.com',
    `${long}@example.org`, `a@${'b'.repeat(63)}.org`, 'user@例子.广告',
  ])('%s can be written to', (address) => {
    expect(emailAddress.safeParse(address).success).toBe(true)
  }) // prettier-ignore
  test.each([
    'john..doe@example.org', '.john@example.org', 'john.@example.org', `a${long}@example.org`,
    `a@${'b'.repeat(64)}.org`, 'a@b@c.example', 'a b@example.com', 'example.com', '@example.com', 'a@', 'a@b..com',
    'a@-b.com', 'a@b-.com', 'a@b.com.', 'user@[192.0.2.1]', 'admin@localhost', 'a@b.co\nBcc: x@y.z',
  ])('%j cannot', (address) => {
    expect(emailAddress.safeParse(address).success).toBe(false)
  }) // prettier-ignore
})
