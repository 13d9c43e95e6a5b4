import type { Definition } from '../workflow/definition.ts'
import { MOST_EXAMPLES, type Example } from '../workflow/example.ts'
import type { Subject } from '../workflow/rehearsalSubject.ts'
import { coverage, exampleOf, type Reachable } from './examples.ts'
import { rehearse } from './rehearse.ts'
import { findWitness, type Search } from './witness.ts'

export interface ExampleSearch extends Omit<Search, 'target'> {
  /** What an example is called that somebody was looked for; null for the one to begin with, as they are. */
  nameOf: (target: Reachable | null) => string
}

/**
 * Examples that go through a whole workflow: for each path, arm and exclusion that none reaches yet somebody is looked for
 * who takes it. Those that a workflow has stay; where it has none, whoever it is begun with comes first. Yields now and then, so that others get a turn.
 */
export function* findExamples(search: ExampleSearch): Generator<void, Example[]> {
  const { definition, shop, nameOf } = search
  const examples = [...(definition.examples ?? [])]
  const add = (target: Reachable | null, subject: Subject): void => {
    const told = rehearse(definition, subject, shop)
    // Who is turned away may be one for an exclusion; to begin with nobody is looked for who does not come in.
    if (target === null && told.runs === 0) return
    examples.push(exampleOf(freeKey(examples), nameOf(target), { subject, definition, told }))
  }
  if (examples.length === 0) add(null, search.start)
  const { missing } = coverage(definition, examples)
  for (const target of missing) {
    if (examples.length >= MOST_EXAMPLES) break
    // One that was found for another way may have come by here.
    if (isReached(definition, examples, target)) continue
    const subject = yield* findWitness({ ...search, target })
    if (subject !== null) add(target, subject)
  }
  return examples
}

const isReached = (definition: Definition, examples: readonly Example[], target: Reachable) =>
  !coverage(definition, examples).missing.some((one) => JSON.stringify(one) === JSON.stringify(target)) // prettier-ignore

/** A key that none of the others has. */
export function freeKey(examples: readonly Example[]): string {
  let number = examples.length + 1
  while (examples.some(({ key }) => key === `example-${number}`)) number += 1
  return `example-${number}`
}
