import { MINUTE_MS } from '../../shared/duration.ts'
import type { Definition } from '../../workflow/definition.ts'
import { advises, type Finding } from '../finding.ts'
import { isAboutProducts, NOTICES, type NoticeState } from './notices.ts'
import { reachedSteps } from '../flow/ways.ts'

/** Within it, two messages about one thing look like the same message twice. */
const SAME_TIME_MS = 15 * MINUTE_MS

/** Who sends a notice by now, as far as the check goes. */
export type NoticeSender = Pick<NoticeState, 'key' | 'takenBy' | 'candidates'>

/** What the shop, or another workflow in its place, says to the same people at the same time. */
export function noticeFindings(
  definition: Definition,
  id: string,
  senders: readonly NoticeSender[],
): Finding[] {
  const { trigger } = definition
  // About certain products it says something else than the shop does.
  if (trigger.kind !== 'event' || isAboutProducts(definition) || !answersAtOnce(definition)) {
    return []
  }
  return NOTICES.filter(({ event }) => event === trigger.event).flatMap(({ key, label }) => {
    const sender = senders.find((one) => one.key === key)
    if (!sender || sender.takenBy === id) return []
    const other = sender.candidates.find((one) => one.id === sender.takenBy)
    const place = { kind: 'workflow' } as const
    const title = other
      ? `“${other.name}” sends the shop’s “${label}” already.`
      : `The shop sends a message of its own about this: “${label}”.`
    const detail = other
      ? 'People would get both. Let this workflow take the notice over in the settings, or start it otherwise.'
      : 'People would get both. Once this is live, let it take the notice over in the settings.'
    return [advises(`notice-${key}`, place, title, detail)]
  })
}

/** True for workflows that write about the thing itself, at about the time when it happens. */
function answersAtOnce(definition: Definition): boolean {
  return reachedSteps(definition).some(
    ({ step, afterMs, byDate }) =>
      step.kind === 'email' &&
      step.purpose === 'transactional' &&
      !byDate &&
      afterMs <= SAME_TIME_MS,
  )
}
