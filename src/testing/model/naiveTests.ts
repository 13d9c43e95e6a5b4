import type { Condition, Count } from '../../core/conditions/condition.ts'
import { ORDERS, type Happening } from './happenings.ts'

/** True when the total of an order is at least what is asked. */
export function totalHolds(
  condition: Extract<Condition, { kind: 'field' }>,
  order: Happening['order'],
): boolean {
  const asked = condition.value as { amountMinor: number; currency: string }
  return asked.currency === 'EUR' && ORDERS[order].totalMinor >= asked.amountMinor
}

/** True when a line is of one of the categories asked for. */
export function lineHolds(condition: Condition, category: string | null): boolean {
  if (condition.kind !== 'field' || category === null) return false
  const wanted = [condition.value].flat() as string[]
  return wanted.some((one) => one.toLowerCase() === category.toLowerCase())
}

/** True when something happened as often as is asked. */
export function enough({ op, times }: Count, found: number): boolean {
  return { atLeast: found >= times, atMost: found <= times, exactly: found === times }[op]
}
