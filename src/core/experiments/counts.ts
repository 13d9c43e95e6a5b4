import type { TestMeasure } from '../workflow/testPlan.ts'
import type { ArmCount } from './judge.ts'

/** What is known of one arm by each measure. */
export interface ArmFigures {
  key: string
  weight: number
  holdout: boolean
  drawn: number
  people: number
  ordered: number
  revenueMinor: number
  revenueSquares: number
  clicked: number
  reviewed: number
  unsubscribed: number
}

/** An arm as it is judged by a measure. */
export function countFor(measure: TestMeasure, arm: ArmFigures): ArmCount {
  const { key, weight, holdout, drawn, people } = arm
  const about = { key, weight, holdout, drawn, people }
  if (measure === 'revenue') {
    return { ...about, did: arm.ordered, sum: arm.revenueMinor, squares: arm.revenueSquares }
  }
  const did = arm[measure]
  return { ...about, did, sum: did, squares: did }
}
