import type { EventType } from '../events/eventTypes.ts'
import type { Definition } from '../workflow/definition.ts'
import { advises, type Finding } from './finding.ts'
import { reachedSteps, type Reached } from './ways.ts'

const RECOVERY: ReadonlySet<EventType> = new Set(['basket.item_added', 'checkout.started'])

/**
 * What practitioners of the trade get wrong and regret: advice, which never stops going live. Common
 * practice; no published source is claimed.
 */
export function practiceFindings(definition: Definition): Finding[] {
  return [...entryAdvice(definition), ...togetherAdvice(reachedSteps(definition))]
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
      before.path.every((fork, at) => fork === one.path[at])
    if (!isTogether) return []
    const title = `“${before.mail.name}” and “${one.mail.name}” reach a person at the same moment.`
    const detail = 'Put a wait between them, or make one message of the two.'
    return [advises('same-moment', { kind: 'step', key: one.mail.key }, title, detail)]
  })
}
