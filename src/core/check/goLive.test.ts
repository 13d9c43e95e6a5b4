import { describe, expect, test } from 'vitest'
import {
  aDefinition,
  anEmail,
  end,
  happened,
  thanksDefinition,
  wait,
} from '../../testing/builders.ts'
import { goLiveFindings } from './goLive.ts'

const codes = (over: Parameters<typeof aDefinition>[0]) =>
  goLiveFindings(aDefinition(over)).map(({ code }) => code)

test('the thank-you workflow has nothing to mend', () => {
  expect(goLiveFindings(thanksDefinition())).toEqual([])
})

test('a workflow that sends nothing', () => {
  expect(
    codes({
      steps: [wait('w', 'P1D'), end('e')],
      exclusions: [
        { key: 'x', when: happened('order.cancelled'), effect: 'leave' },
        { key: 'y', when: happened('order.refunded'), effect: 'leave' },
      ],
    }),
  ).toEqual(['no-message'])
})

describe('messages', () => {
  test.each([
    ['no subject', { subject: '  ' }, 'no-subject'],
    ['no text', { body: '' }, 'no-body'],
    [
      'a way to write it that there is not',
      { body: '{{ order.total | as: "weekday" }}' },
      'field-order.total',
    ],
    [
      'a way to write what has one only',
      { body: '{{ order.number | as: "short" }}' },
      'field-order.number',
    ],
    ['a misspelt field', { body: '{{ customer.firstname }}' }, 'field-customer.firstname'],
    [
      'a field that may be empty',
      { subject: 'Dear {{customer.first_name}}' },
      'field-customer.first_name',
    ],
    ['a way to a prototype', { body: '{{ constructor.name }}' }, 'field-constructor.name'],
    ['no sender', { sender: { name: 'Maren', address: 'maren@' } }, 'sender'],
    ['an answer to nowhere', { replyTo: 'nobody' }, 'reply-to'],
    ['broken braces', { body: 'Hello {{ customer.first_name ' }, 'braces'],
  ])('%s', (_what, over, code) => {
    expect(codes({ steps: [anEmail('m', over)] })).toContain(code)
  })
  test('a fallback is enough', () => {
    expect(
      codes({ steps: [anEmail('m', { body: '{{ customer.first_name | default: "there" }}' })] }),
    ).toEqual([])
  })
  test('an order’s fields where there is no order', () => {
    expect(
      codes({ trigger: { kind: 'event', event: 'customer.created' }, steps: [anEmail('m')] }),
    ).toContain('field-order.number')
  })
})

describe('ways that end', () => {
  test('a step after an end', () => {
    expect(codes({ steps: [end('e'), anEmail('m')] })).toEqual(['unreached'])
  })
  test('a step after a split all of whose paths end', () => {
    const split = {
      key: 's',
      kind: 'split' as const,
      branches: [
        { key: 'b', name: 'B', when: { kind: 'all' as const, of: [] }, steps: [end('e1')] },
      ],
      otherwise: [end('e2')],
    }
    expect(codes({ steps: [split, anEmail('m')] })).toEqual(['unreached'])
  })
})

describe('missing exclusions', () => {
  test('matter only where there is a wait', () => {
    expect(codes({})).toEqual([])
    expect(codes({ steps: [wait('w', 'P1D'), anEmail('m')] })).toEqual([
      'missing-exclusion-order.cancelled',
      'missing-exclusion-order.refunded',
    ])
  })
  test('a payment recovery must know of the payment', () => {
    expect(
      codes({
        trigger: { kind: 'event', event: 'order.payment_failed' },
        steps: [wait('w', 'PT10M'), anEmail('m')],
      }),
    ).toContain('missing-exclusion-order.paid')
  })
})

test('a condition without its value', () => {
  const filter = { kind: 'field' as const, field: 'order.categories', op: 'hasAny', value: [] }
  expect(codes({ trigger: { kind: 'event', event: 'order.placed', filter } })).toContain(
    'incomplete-condition',
  )
})
test('a condition about an order where there is none', () => {
  const filter = { kind: 'field' as const, field: 'order.items', op: 'gte', value: 2 }
  const body = 'Hello {{ shop.name }}'
  const steps = [anEmail('m', { subject: 'Hello', body })]
  expect(codes({ trigger: { kind: 'event', event: 'customer.created', filter }, steps })).toEqual([
    'no-order',
  ])
  expect(codes({ trigger: { kind: 'event', event: 'customer.created' }, steps })).toEqual([])
})

test('a workflow without a name', () => {
  expect(codes({ name: ' ' })).toContain('no-name')
})
