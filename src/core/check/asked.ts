import { testsIn, type Condition, type TestCondition } from '../conditions/condition.ts'
import type { OrderStatus } from '../events/entities.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { Definition } from '../workflow/definition.ts'

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

/** True when how often somebody has ordered decides who gets here. */
export const asksForOrders = (conditions: readonly Condition[]): boolean =>
  conditions
    .flatMap(testsIn)
    .some(
      (test) =>
        test.kind === 'history' &&
        test.event === 'order.placed' &&
        test.window.kind !== 'sinceEntry',
    )

/** True when a field decides who gets here. */
export const asksFor = (conditions: readonly Condition[], ...fields: string[]): boolean =>
  conditions.flatMap(testsIn).some((test) => test.kind === 'field' && fields.includes(test.field))

/** What is asked of everybody at the door and before each message. */
export const rulesOf = ({ trigger, exclusions }: Definition): Condition[] => [
  ...(trigger.filter ? [trigger.filter] : []),
  ...exclusions.map(({ when }) => when),
]
