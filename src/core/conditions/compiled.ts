import type { Facts } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import type { Needs } from './needs.ts'
import type { Observation } from './observation.ts'
import type { TestMoment } from './operators.ts'

/** What a condition is asked about: the facts of the moment, and where the run came from. */
export interface Asked {
  facts: Facts
  /** The time of the triggering event. */
  enteredAt: Instant
}

/** Gives the observations of a condition back one by one, in the order they were made. */
export type Recall = () => Observation

/** A condition ready to be asked. */
export interface CompiledCondition {
  holds: (asked: Asked) => boolean
  /** The facts the condition rests on, for the ledger: one for each of its tests, in order. */
  observe: (asked: Asked) => Observation[]
  /** What it says of facts observed earlier: the same as `holds` said of the facts themselves. */
  judge: (recall: Recall, moment: TestMoment) => boolean
  needs: Needs
}

/** A single test, split into what it looks at and what it makes of it. */
export interface CompiledTest {
  look: (asked: Asked) => Observation
  test: (observation: Observation, moment: TestMoment) => boolean
  needs: Needs
}
