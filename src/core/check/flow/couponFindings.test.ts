import { expect, test } from 'vitest'
import { aDefinition, anEmail, on, ordersEver } from '../../../testing/builders.ts'
import type { Condition } from '../../conditions/condition.ts'
import type { Definition } from '../../workflow/definition.ts'
import type { CouponStep, Step } from '../../workflow/steps.ts'
import { couponFindings } from './couponFindings.ts'
import { goLiveFindings } from '../goLive.ts'
import { couponBefore } from './ways.ts'

const coupon: CouponStep = {
  key: 'c',
  kind: 'coupon',
  name: 'Ten per cent',
  pattern: 'BEE-######',
  discount: { kind: 'percent', percent: 10 },
  expiresAfter: 'PT24H',
}
const once = { rule: { kind: 'once' as const }, overlap: 'one' as const }
const codes = (over: Partial<Definition>) =>
  couponFindings(aDefinition({ steps: [coupon], ...over })).map(({ code }) => code)
const split = (when: Condition, steps: Step[], otherwise: Step[] = []): Step => ({
  key: 's',
  kind: 'split',
  branches: [{ key: 'b', name: 'B', when, steps }],
  otherwise,
})

test('a coupon that teaches people to leave their basket', () => {
  const trigger = on('checkout.started')
  expect(codes({ trigger, entry: once })).toEqual(['coupon-for-all'])
  expect(codes({ trigger, entry: once, steps: [split(ordersEver(0), [coupon])] })).toEqual([])
  // Whoever has ordered took the path before it.
  const never = split({ kind: 'not', of: ordersEver(0) }, [], [coupon])
  expect(codes({ trigger, entry: once, steps: [never] })).toEqual([])
})
test('a coupon after every order, but not after the first alone, or once', () => {
  expect(codes({})).toEqual(['coupon-for-all'])
  expect(codes({ trigger: on('order.placed', { filter: ordersEver(1) }) })).toEqual([])
  expect(codes({ entry: once })).toEqual([])
  expect(codes({ trigger: on('subscription.status_changed') })).toEqual([])
})
test('a code for all, that never ends; the repairs give each person one of a day', () => {
  const { expiresAfter: _day, ...endless } = coupon
  const definition = aDefinition({ entry: once, steps: [{ ...endless, pattern: 'SPRING' }] })
  const findings = couponFindings(definition)
  expect(findings.map(({ code }) => code)).toEqual(['coupon-shared', 'coupon-unending'])
  const mended = findings.reduce((before, { repair }) => repair?.mend(before) ?? before, definition)
  expect(mended.steps).toEqual([{ ...coupon, pattern: 'SPRING-######' }])
  expect(couponFindings(mended)).toEqual([])
})

const shows = anEmail('m', { purpose: 'marketing', body: 'Your code: {{ coupon.code }}' })
const field = (steps: Step[]) =>
  goLiveFindings(aDefinition({ entry: once, steps })).filter(({ code }) => code === 'field-coupon.code') // prettier-ignore

test('a code in a message is there only where one was issued on the way', () => {
  expect(field([coupon, shows])).toEqual([])
  expect(field([shows, coupon])[0]?.detail).toContain('No coupon step stands before')
  expect(field([split(ordersEver(1), [coupon], [shows])])).toHaveLength(1)
  expect(field([split(ordersEver(1), [coupon]), shows])[0]?.title).toContain('not there for everyone') // prettier-ignore
  expect(field([split(ordersEver(1), [coupon, shows])])).toEqual([])
  // All others have left.
  expect(field([split(ordersEver(1), [coupon], [{ key: 'e', kind: 'end' }]), shows])).toEqual([])
})
test('with words in its place, a code may be missing', () => {
  const words = { ...shows, body: '{{ coupon.code | default: "no code this time" }}' }
  expect(field([split(ordersEver(1), [coupon]), words])).toEqual([])
})
test('a block with a code needs one on the way as well', () => {
  const designed = anEmail('m', {
    purpose: 'marketing',
    format: 'designed',
    body: '',
    blocks: [{ key: 'k', kind: 'coupon', text: 'Yours:' }],
  })
  const found = goLiveFindings(aDefinition({ entry: once, steps: [designed, coupon] }))
  expect(found.map(({ code }) => code)).toContain('block-k')
  expect(couponBefore(aDefinition({ steps: [designed, coupon] }), 'm')).toBe('none')
  expect(couponBefore(aDefinition({ steps: [coupon, designed] }), 'm')).toBe('all')
})
