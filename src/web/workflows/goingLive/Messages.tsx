import { useMemo, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { ShopFacts } from '../../../core/events/facts.ts'
import { rehearse } from '../../../core/rehearsal/rehearse.ts'
import { messagesOf } from '../../../core/rehearsal/story.ts'
import { formatInstant, type Instant } from '../../../core/shared/time.ts'
import { dateWords, plural } from '../../../core/words/quantities.ts'
import { STEP_WORDS } from '../../../core/words/steps.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { isMessage, type MessageStep } from '../../../core/workflow/steps.ts'
import { useProducts } from '../../ui/data/useProducts.ts'
import { firstSubject } from '../rehearsal/firstSubject.ts'
import { useShopFacts } from '../rehearsal/useShopFacts.ts'
import { Part } from './Part.tsx'

interface Props {
  definition: Definition
  /** Nothing stands in the way of going through it. */
  isRunnable: boolean
  now: Instant
}

/** What it sends, from whom and for what purpose, and when somebody who comes in now gets it. */
export function Messages({ definition, isRunnable, now }: Props): ReactNode {
  const { facts } = useShopFacts()
  const products = useProducts()
  const first = useMemo(() => {
    if (!isRunnable || !facts) return null
    return firstTimes(definition, firstSubject(now, products, facts.currency, definition.trigger), { now, shop: facts }) // prettier-ignore
  }, [definition, isRunnable, facts, products, now])
  const messages = allSteps(definition.steps).filter(isMessage)
  if (messages.length === 0) return null
  const zone = facts?.zone ?? 'UTC'
  return (
    <Part title={`What it sends: ${plural(messages.length, 'message')}`}>
      <table className="table table-sm">
        <thead>
          <tr>
            <th scope="col">Message</th>
            <th scope="col">As</th>
            <th scope="col">From</th>
            <th scope="col">First</th>
          </tr>
        </thead>
        <tbody>
          {messages.map((step) => (
            <tr key={step.key}>
              <td>{step.name || 'Unnamed'}</td>
              <td>{channelWords(step)}</td>
              <td>{fromWords(step)}</td>
              <td>{timeWords(first?.times.get(step.key), zone, now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {first && (
        <p className="text-secondary">
          {first.times.size === 0
            ? 'Nobody like whom we tried it with would get anything. '
            : `When ${first.name} gets it who comes in now, and to whom nothing else happens. `}
          <Link className="link" to="../rehearsal" relative="path">
            Try it with others
          </Link>
        </p>
      )}
    </Part>
  )
}

/** Somebody comes in at this moment: like the first example that gets anything, or else like whom a rehearsal begins with. */
function firstTimes(
  definition: Definition,
  usual: Subject,
  { now, shop }: { now: Instant; shop: ShopFacts },
): { name: string; times: Map<string, Instant> } {
  const kept = (definition.examples ?? []).find(({ outcome }) => outcome.messages.length > 0)
  const subject = kept ? { ...kept.subject, at: formatInstant(now), between: [] } : usual
  const times = new Map<string, Instant>()
  for (const { step, at } of messagesOf(rehearse(definition, subject, shop))) {
    if (!times.has(step)) times.set(step, at)
  }
  return { name: kept ? `somebody as in “${kept.name}”` : 'somebody new', times }
}

function channelWords(step: MessageStep): string {
  const what = STEP_WORDS[step.kind].replace(/^an? /, '')
  return 'purpose' in step ? `${what}, ${step.purpose}` : what
}

function fromWords(step: MessageStep): string {
  if (step.kind !== 'email') return step.kind === 'note' ? 'to your staff' : 'the shop’s number'
  const { name, address } = step.sender
  return name ? `${name} (${address})` : address
}

const timeWords = (at: Instant | undefined, zone: string, now: Instant): string =>
  at === undefined ? '–' : dateWords(at, zone, now)
