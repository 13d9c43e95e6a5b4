import { expect, test } from 'vitest'
import { aDefinition, anEmail, happened, on, wait } from '../../../testing/builders.ts'
import type { Condition } from '../../conditions/condition.ts'
import type { Definition } from '../../workflow/definition.ts'
import type { DateTrigger } from '../../workflow/trigger.ts'
import { exclusionFindings } from './exclusionFindings.ts'

const waits = [wait('w', 'P7D'), anEmail('m')]
const offers = [wait('w', 'P7D'), anEmail('m', { purpose: 'marketing' })]
const leaves = (...conditions: Condition[]) =>
  conditions.map((when, index) => ({ key: `x${index}`, when, effect: 'leave' as const }))
const status = (field: string, op: string, value: string | string[] | boolean): Condition => ({
  kind: 'field',
  field,
  op,
  value,
})
const codes = (over: Partial<Definition>) =>
  exclusionFindings(aDefinition({ steps: waits, ...over })).map(({ code }) => code)

/** What is found once every repair has been made. */
function left(over: Partial<Definition>) {
  const definition = aDefinition({ steps: waits, ...over })
  const mended = exclusionFindings(definition).reduce(
    (before, { repair }) => repair?.mend(before) ?? before,
    definition,
  )
  return exclusionFindings(mended)
}

test('follow-ups that go on after the order was undone', () => {
  const both = ['missing-exclusion-order.cancelled', 'missing-exclusion-order.refunded']
  expect(codes({})).toEqual(both)
  expect(codes({ steps: [anEmail('m')] })).toEqual([])
  expect(codes({ exclusions: leaves(happened('order.refunded')) })).toEqual(both.slice(0, 1))
  expect(left({})).toEqual([])
})
test('the status of an order says as much as what has happened to it', () => {
  expect(codes({ exclusions: leaves(status('order.status', 'in', ['cancelled', 'refunded'])) })).toEqual([]) // prettier-ignore
  expect(codes({ exclusions: leaves(status('order.status', 'is', 'cancelled')) })).toEqual(['missing-exclusion-order.refunded']) // prettier-ignore
})
test('a date that comes all the same when the order or subscription has ended', () => {
  const before = (field: string, filter?: Condition): DateTrigger => ({
    kind: 'date',
    field,
    direction: 'before',
    days: 2,
    at: '09:00',
    zone: 'shop',
    ...(filter && { filter }),
  })
  expect(codes({ trigger: before('subscription.nextPaymentAt') })).toEqual(['any-status'])
  expect(codes({ trigger: before('subscription.nextPaymentAt', status('subscription.automatic', 'is', true)) })).toEqual([]) // prettier-ignore
  expect(codes({ trigger: before('line.startsAt') })).toEqual(['any-status'])
  expect(codes({ trigger: before('line.startsAt'), exclusions: leaves(happened('order.cancelled')) })).toEqual([]) // prettier-ignore
  expect(codes({ trigger: before('customer.lastOrderAt') })).toEqual([])
  expect(left({ trigger: before('subscription.nextPaymentAt') })).toEqual([])
  expect(left({ trigger: before('order.firstDate') })).toEqual([])
})
test('offers to those who have written a bad review', () => {
  const trigger = on('order.fulfilled')
  const refunded = leaves(happened('order.refunded'))
  expect(codes({ trigger, exclusions: refunded, steps: offers })).toEqual(['bad-review'])
  expect(codes({ trigger, exclusions: refunded, steps: waits })).toEqual([])
  expect(codes({ trigger, exclusions: refunded, steps: offers.slice(1) })).toEqual([])
  const asks = [wait('w', 'P7D'), anEmail('m', { purpose: 'marketing', body: 'Write a review?' })]
  expect(codes({ trigger, exclusions: refunded, steps: asks })).toEqual([])
  expect(left({ trigger, exclusions: refunded, steps: offers })).toEqual([])
})
