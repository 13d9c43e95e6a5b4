import { isToCustomer } from '../../workflow/steps.ts'
import type { EventType } from '../../events/eventTypes.ts'
import type { Definition } from '../../workflow/definition.ts'
import { asksFor } from './asked.ts'
import { advises, type Finding } from '../finding.ts'
import { waitingBefore } from '../mend.ts'
import { reachedSteps, type Reached } from './ways.ts'

const RECOVERY: ReadonlySet<EventType> = new Set(['basket.item_added', 'checkout.started'])

/**
 * What practitioners of the trade get wrong and regret: advice, which never stops going live. Common
 * practice; no published source is claimed.
 */
export function practiceFindings(definition: Definition): Finding[] {
  const reached = reachedSteps(definition)
  return [
    ...entryAdvice(definition),
    ...delayAdvice(definition, reached),
    ...togetherAdvice(reached),
  ]
}

/** True for workflows about something that was left unfinished. */
export function isRecovery({ trigger }: Definition): boolean {
  return trigger.kind === 'event' && RECOVERY.has(trigger.event)
}

function entryAdvice(definition: Definition): Finding[] {
  if (!isRecovery(definition) || definition.entry.rule.kind !== 'every') return []
  const title = 'The same person can get this series again and again.'
  const detail = 'Thirty days between two entries is usual for unfinished baskets and checkouts.'
  const finding = advises('entry-limit', { kind: 'entry' }, title, detail)
  const mend = (before: Definition): Definition => ({
    ...before,
    entry: { rule: { kind: 'after', duration: 'P30D' }, overlap: 'one' },
  })
  return [{ ...finding, repair: { label: 'Again after 30 days only', mend } }]
}

/** A large purchase takes longer to decide than a small one. */
function delayAdvice({ trigger }: Definition, reached: readonly Reached[]): Finding[] {
  if (trigger.kind !== 'event' || trigger.event !== 'checkout.started') return []
  const first = reached.find(({ step }) => isToCustomer(step))
  if (!first || reached.some(({ asked }) => asksFor(asked, 'checkout.total'))) return []
  const title = 'Small and large checkouts are written to after the same time.'
  const detail =
    'Part them by their total: 30 to 60 minutes for small ones, some hours for large ones, which take longer to decide.'
  return [advises('one-delay', { kind: 'step', key: first.step.key }, title, detail)]
}

/** Two messages to the customer with no time between them. */
function togetherAdvice(reached: readonly Reached[]): Finding[] {
  const mails = reached.flatMap(({ step, ...way }) =>
    step.kind === 'email' ? [{ ...way, mail: step }] : [],
  )
  return mails.flatMap((one, index): Finding[] => {
    const before = mails[index - 1]
    const isTogether =
      before !== undefined &&
      before.moment === one.moment &&
      before.mail.onlyIf === undefined &&
      before.path.every((branching, at) => branching === one.path[at])
    if (!isTogether) return []
    const title = `“${before.mail.name}” and “${one.mail.name}” reach a person at the same moment.`
    const detail = 'Put a wait between them, or make one message of the two.'
    const { key } = one.mail
    const repair = { label: 'Wait a day between them', mend: waitingBefore(key, 'P1D') }
    return [{ ...advises('same-moment', { kind: 'step', key }, title, detail), repair }]
  })
}
