import type { ShopFacts } from '../events/facts.ts'
import type { Definition } from '../workflow/definition.ts'
import type { Subject } from '../workflow/rehearsalSubject.ts'
import { rehearse } from './rehearse.ts'
import { stopsOf } from './story.ts'
import { changed, subjectChanges, type SubjectChange } from './subjectChanges.ts'

export interface Question {
  definition: Definition
  subject: Subject
  /** The message that is asked about. */
  step: string
  /** What can be ordered, one piece each. */
  products: Subject['lines']
  shop: ShopFacts
}

/** What would have to differ for the answer to turn. */
export interface Difference {
  /** Whether they get it as it is. */
  isSent: boolean
  /** Each of these alone turns it. */
  alone: SubjectChange[]
  /** Where none does alone: two together. */
  pairs: [SubjectChange, SubjectChange][]
  /** How many people were tried. */
  tried: number
}

/** Between two breaths. */
const AT_ONCE = 20
/** More answers than these nobody reads; more people than these nobody waits for. */
const MOST_PAIRS = 6
const MOST_TRIES = 6000

/**
 * The least changes to somebody made up that turn whether they get a message the first time they come in: all single ones, and
 * where none does, pairs. Nothing is guessed: each is somebody whom the interpreter took through the workflow. Pairs begin with a
 * change that makes another thing stand in the way. Yields now and then, so that others get a turn.
 */
export function* leastChanges(question: Question): Generator<void, Difference> {
  const { definition, subject, step, products } = question
  const isSent = answerOf(question, subject) === SENT
  const changes = subjectChanges(definition, subject, products)
  const found: Difference = { isSent, alone: [], pairs: [], tried: 0 }
  const before = answerOf(question, subject)
  const closer: SubjectChange[] = []
  for (const change of changes) {
    found.tried += 1
    if (found.tried % AT_ONCE === 0) yield
    const answer = answerOf(question, changed(subject, change))
    if ((answer === SENT) !== isSent) found.alone.push(change)
    else if (answer !== before) closer.push(change)
  }
  found.alone = simplest(found.alone)
  if (found.alone.length > 0) return found
  for (const first of closer) {
    const then = changed(subject, first)
    for (const second of changes) {
      if (second === first || found.tried >= MOST_TRIES) continue
      found.tried += 1
      if (found.tried % AT_ONCE === 0) yield
      if ((answerOf({ ...question, step }, changed(then, second)) === SENT) === isSent) continue
      found.pairs.push([first, second])
      // One second change is enough for each first one.
      break
    }
    if (found.pairs.length >= MOST_PAIRS) break
  }
  return found
}

const SENT = 'sent'

/** What became of the message, in a word that changes whenever another thing stands in its way. */
function answerOf({ definition, step, shop }: Question, subject: Subject): string {
  const told = rehearse(definition, subject, shop)
  const stop = stopsOf(definition, told).get(step)
  if (stop?.kind === 'sent') return SENT
  if (stop) return JSON.stringify([stop.kind, 'reason' in stop.entry ? stop.entry.reason : null])
  const last = told.entries.findLast(({ run }) => run === 0 || run === null)
  return JSON.stringify(['not reached', last?.entry ?? null])
}

/** Of what differs only in when, or how often, or in what is ordered instead, the first few: the others say the same again. */
function simplest(changes: readonly SubjectChange[]): SubjectChange[] {
  const seen = new Map<string, number>()
  return changes.filter((change) => {
    const key = change.what === 'with' ? `with ${change.happening.what}` : change.what
    const count = seen.get(key) ?? 0
    seen.set(key, count + 1)
    return count < (MOST_ALIKE[change.what] ?? 1)
  })
}

const MOST_ALIKE: Partial<Record<SubjectChange['what'], number>> = {
  consent: 4,
  without: 20,
  ordered: 3,
  tag: 5,
  country: 3,
  arm: 5,
}
