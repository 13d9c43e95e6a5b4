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
              <td>{timeWords(first?.get(step.key), zone, now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {first && (
        <p className="text-secondary">
          {first.size === 0
            ? 'Nobody with whom it was tried would get anything. '
            : 'When whoever comes in now gets it, on the path of it, if nothing else happens to them. '}
          <Link className="link" to="../rehearsal" relative="path">
            Try it with others
          </Link>
        </p>
      )}
    </Part>
  )
}

/**
 * When each message leaves first, if somebody comes in at this moment to whom nothing else happens: like whom a rehearsal
 * begins with, or like one of the examples, which take the other paths.
 */
function firstTimes(
  definition: Definition,
  usual: Subject,
  { now, shop }: { now: Instant; shop: ShopFacts },
): Map<string, Instant> {
  const kept = (definition.examples ?? []).map(({ subject }) => ({ ...subject, at: formatInstant(now), between: [] })) // prettier-ignore
  const times = new Map<string, Instant>()
  for (const subject of [usual, ...kept]) {
    for (const { step, at } of messagesOf(rehearse(definition, subject, shop))) {
      times.set(step, Math.min(at, times.get(step) ?? Infinity))
    }
  }
  return times
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
