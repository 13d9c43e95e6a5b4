import { testsIn } from '../../conditions/condition.ts'
import type { Definition } from '../../workflow/definition.ts'
import { freshKey } from '../../workflow/edit.ts'
import type { EmailStep } from '../../workflow/steps.ts'
import type { Trigger } from '../../workflow/trigger.ts'
import { advises, type Finding } from '../finding.ts'
import { isRecovery } from '../flow/practiceFindings.ts'
import { arePossible, type Claim } from '../reasoning/possible.ts'
import { reachedSteps, type Reached } from '../flow/ways.ts'

/** Another workflow that is live. */
export interface OtherWorkflow {
  id: string
  name: string
  definition: Definition
}

/** What one workflow does to the people who are in another one as well. */
export function crossFindings(
  definition: Definition,
  id: string,
  others: readonly OtherWorkflow[],
): Finding[] {
  return others
    .filter((other) => other.id !== id)
    .flatMap((other) => [...bothRecover(definition, id, other), ...sameMoments(definition, other)])
}

/** Who leaves both a basket and a checkout behind must not get two series about it. */
function bothRecover(definition: Definition, id: string, other: OtherWorkflow): Finding[] {
  if (!isRecovery(definition) || !isRecovery(other.definition)) return []
  const mine = { id, definition }
  if (knowsOf(definition, other) || knowsOf(other.definition, mine)) return []
  const title = `The same person can be in this and in “${other.name}” at once.`
  const detail = 'They would get both series about the same things.'
  const finding = advises(`both-${other.id}`.slice(0, 80), { kind: 'exclusions' }, title, detail)
  const mend = (before: Definition): Definition => ({
    ...before,
    exclusions: [
      ...before.exclusions,
      {
        key: freshKey(before, 'exclusion'),
        when: { kind: 'workflows', workflow: other.id, state: 'isIn', window: { kind: 'ever' } },
        effect: 'leave',
      },
    ],
  })
  return [{ ...finding, repair: { label: `Leave who is in “${other.name}”`, mend } }]
}

/** True when somebody who is in the other workflow, or on the way into it, is let out or not let in. */
function knowsOf(
  { trigger, exclusions }: Definition,
  { id, definition: { trigger: starts } }: Pick<OtherWorkflow, 'id' | 'definition'>,
): boolean {
  const conditions = [trigger.filter, ...exclusions.map(({ when }) => when)]
  return conditions.some(
    (condition) =>
      condition &&
      testsIn(condition).some(
        (test) =>
          (test.kind === 'workflows' && test.workflow === id) ||
          (test.kind === 'history' && starts.kind === 'event' && test.event === starts.event),
      ),
  )
}

/** Two workflows that start together and whose mails leave at the same moment, one of them marketing. */
function sameMoments(definition: Definition, other: OtherWorkflow): Finding[] {
  if (!canShare(definition, other.definition)) return []
  const theirs = mailsOf(other.definition)
  const clashes = mailsOf(definition).flatMap((mine) => {
    const clash = theirs.find(
      (one) =>
        one.reached.moment === mine.reached.moment &&
        (one.mail.purpose === 'marketing' || mine.mail.purpose === 'marketing'),
    )
    return clash ? [{ mine, clash }] : []
  })
  // One is enough to look into: what parts the first most often parts them all.
  const [first, ...further] = clashes
  if (!first) return []
  const { mine, clash } = first
  const more = further.length === 0 ? '' : `, and ${further.length} more of them do so`
  const title = `“${mine.mail.name}” reaches people at the same moment as “${clash.mail.name}” of “${other.name}”${more}.`
  const detail =
    'Give one of them another moment, or let one of the workflows leave the other’s people.'
  const code = `clash-${other.id}`.slice(0, 80)
  return [advises(code, { kind: 'step', key: mine.mail.key }, title, detail)]
}

/** True when one event, or one date, can let a person into both. */
function canShare(a: Definition, b: Definition): boolean {
  if (!startTogether(a.trigger, b.trigger)) return false
  const claims = [a.trigger.filter, b.trigger.filter].flatMap((condition): Claim[] =>
    condition ? [{ condition, holds: true }] : [],
  )
  return arePossible(claims, a.trigger)
}

function startTogether(a: Trigger, b: Trigger): boolean {
  if (a.kind === 'event' && b.kind === 'event') return a.event === b.event
  // Their moments say the rest: how long before or after it, and at what hour.
  return a.kind === 'date' && b.kind === 'date' && a.field === b.field
}

interface Mail {
  mail: EmailStep
  reached: Reached
}

/** The mails that reach everybody at a moment that is the same in other workflows. */
function mailsOf(definition: Definition): Mail[] {
  return reachedSteps(definition).flatMap((reached) =>
    reached.step.kind === 'email' && reached.isExact ? [{ mail: reached.step, reached }] : [],
  )
}
