import { unitHash } from '../shared/hash.ts'

/**
 * A person's number in a lottery: from 0 up to 1, the same each time, and as good as independent from
 * one lottery to another.
 */
export function rollOf(lottery: string, customerId: string): number {
  return unitHash(`${lottery}\n${customerId}`)
}

/** The arm that a roll falls on, by weight; the last one of weight where rounding leaves a gap. */
export function armFor<Arm extends { weight: number }>(arms: readonly Arm[], roll: number): Arm {
  const total = arms.reduce((sum, { weight }) => sum + weight, 0)
  let upTo = 0
  for (const arm of arms) {
    upTo += arm.weight
    if (roll * total < upTo) return arm
  }
  const last = arms.findLast(({ weight }) => weight > 0) ?? arms.at(-1)
  if (!last) throw new RangeError('An experiment has no arms')
  return last
}
