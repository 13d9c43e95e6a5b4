import { testsIn, type Condition, type TestCondition } from '../../conditions/condition.ts'
import type { OrderStatus } from '../../events/entities.ts'
import type { EventType } from '../../events/eventTypes.ts'
import type { Definition } from '../../workflow/definition.ts'

/** The events a condition asks about, outright or by the status that they leave behind. */
export function eventsIn(condition: Condition): EventType[] {
  return testsIn(condition).flatMap((test) => {
    if (test.kind === 'history') return test.event
    return test.kind === 'field' ? statusesOf(test).flatMap((status) => LEFT_BY[status] ?? []) : []
  })
}

/** The event that an order or subscription of a status has been through. */
const LEFT_BY: Readonly<Record<string, EventType>> = {
  cancelled: 'order.cancelled',
  refunded: 'order.refunded',
  paid: 'order.paid',
} satisfies Partial<Record<OrderStatus, EventType>>

function statusesOf({ field, op, value }: Extract<TestCondition, { kind: 'field' }>): string[] {
  if (field !== 'order.status' || (op !== 'is' && op !== 'in')) return []
  return [value].flat().filter((one) => typeof one === 'string')
}

/** Whoever counts one of these counts somebody's orders. */
const COUNT_ORDERS: ReadonlySet<EventType> = new Set<EventType>([
  'order.placed',
  'order.paid',
  'order.completed',
  'order.fulfilled',
  'order.delivered',
])

/** True when how often somebody has ordered decides who gets here. */
export const asksForOrders = (conditions: readonly Condition[]): boolean =>
  conditions
    .flatMap(testsIn)
    .some(
      (test) =>
        test.kind === 'history' &&
        COUNT_ORDERS.has(test.event) &&
        test.about === 'customer' &&
        test.window.kind !== 'sinceEntry',
    )

/** True when a field decides who gets here. */
export const asksFor = (conditions: readonly Condition[], ...fields: string[]): boolean =>
  conditions.flatMap(testsIn).some((test) => test.kind === 'field' && fields.includes(test.field))

/** The same, where an exclusion may ask for it as well. */
export const dependsOnOrders = (asked: readonly Condition[], definition: Definition): boolean =>
  asksForOrders([...asked, ...rulesOf(definition)])

/**
 * True when letting everybody in once takes a message from nobody who would have got it: nothing but the
 * filter decides who gets it, so that their first entry is the one that brings it.
 */
export const mayEnterOnce = (asked: readonly Condition[], { trigger }: Definition): boolean =>
  asked.length <= (trigger.filter ? 1 : 0)

/** What is asked of everybody at the door and before each message. */
export const rulesOf = ({ trigger, exclusions }: Definition): Condition[] => [
  ...(trigger.filter ? [trigger.filter] : []),
  ...exclusions.map(({ when }) => when),
]
