import { entityFacts } from '../../core/events/entityFacts.ts'
import { readCloudEvent, subjectIdOf } from '../../core/events/cloudEvent.ts'
import { compileProgram } from '../../core/workflow/compile.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { simulate, type Decided, type LifeEvent } from '../../core/workflow/simulate.ts'
import { facts as baseFacts } from '../coreFacts.ts'
import { toEvent, type Happening, type ModelShopRules } from './happenings.ts'

/** The core's interpreter on the history of a model: one customer, one workflow, any number of runs. */
export function interpret(
  definition: Definition,
  happenings: readonly Happening[],
  rules: ModelShopRules,
): Decided[] {
  const { shop, customer } = baseFacts({ customer: { zone: null, country: 'IE' }, shop: rules })
  const life = { shop, customer, before: [], events: happenings.map(toLifeEvent), until: Infinity }
  return simulate(compileProgram(definition), life).decided
}

function toLifeEvent(happening: Happening, index: number): LifeEvent {
  const read = readCloudEvent(toEvent(happening, index))
  if (!read.ok) throw new Error(`The model made a bad event: ${JSON.stringify(read.problems)}`)
  const { type, data } = read.event
  const { at, arrivesAt } = happening
  const entity = entityFacts(type, data, at)
  return { type, at, arrivesAt, subjectId: subjectIdOf(data), entity, change: null }
}
