import type { Interval } from './rates.ts'

/** What is known of one arm, of those whose window is over. */
export interface Arm {
  people: number
  mean: number
  /** Of single people; of a rate, rate × (1 − rate). */
  variance: number
}

interface SequenceOptions {
  /** The share of people that the first arm gets. */
  weight: number
  /** With how many people in all the interval is to be at its tightest: those that were planned. */
  plan: number
  alpha?: number
}

/**
 * In which the difference of two arms lies, first − second, however often it is looked at: with
 * probability 1 − α it holds the truth at every look. Asymptotic, so it waits for enough of what is counted
 * in each arm. Null where one of them has nobody.
 * Waudby-Smith, Arbour, Sinha, Kennedy, Ramdas: Time-uniform central limit theory and asymptotic
 * confidence sequences; normal mixture after Robbins (1970).
 */
export function alwaysValidInterval(
  first: Arm,
  second: Arm,
  { weight, plan, alpha = 0.05 }: SequenceOptions,
): Interval | null {
  if (first.people === 0 || second.people === 0) return null
  const people = first.people + second.people
  const variance =
    (first.variance * first.people) / (people * weight ** 2) +
    (second.variance * second.people) / (people * (1 - weight) ** 2)
  const half = Math.sqrt(variance) * boundary(people, tightestAt(plan, alpha), alpha)
  const difference = first.mean - second.mean
  return { low: difference - half, high: difference + half }
}

/** Makes the boundary nearly as tight as can be after so many people; the width hardly depends on it. */
export function tightestAt(plan: number, alpha = 0.05): number {
  const log = -2 * Math.log(alpha)
  return Math.sqrt((log + Math.log(log + 1)) / plan)
}

/** How far it reaches to both sides after so many people, in standard deviations of one. */
function boundary(people: number, rho: number, alpha: number): number {
  const scaled = people * rho ** 2 + 1
  return Math.sqrt(((2 * scaled) / (people ** 2 * rho ** 2)) * Math.log(Math.sqrt(scaled) / alpha))
}
