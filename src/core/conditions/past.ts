import type { PastMessage } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import type { Asked, CompiledTest } from './compiled.ts'
import type { MessagesCondition, WorkflowsCondition } from './condition.ts'
import { isWithin, spanOf } from './window.ts'

/** "Has been in this or another workflow", "is in it now". The run that asks does not count. */
export function compileWorkflows(condition: WorkflowsCondition): CompiledTest {
  const { workflow, state, window } = condition
  return {
    look: (asked) => {
      const span = spanOfAsked(window, asked)
      const found = asked.facts.entries.filter(
        (entry) =>
          isMeant(workflow, entry.workflowId, asked) &&
          (state === 'isIn' ? entry.inProgress : isWithin(entry.enteredAt, span)),
      )
      const times = found.map(({ enteredAt }) => enteredAt)
      return { kind: 'workflows', workflow, state, count: found.length, lastAt: latest(times) }
    },
    test: (seen) => seen.kind === 'workflows' && seen.count > 0,
    needs: { events: new Map(), entries: true, messages: false },
  }
}

/** "Got, opened or clicked a message", a given one or any. */
export function compileMessages(condition: MessagesCondition): CompiledTest {
  const { did, workflow, step, window } = condition
  return {
    look: (asked) => {
      const span = spanOfAsked(window, asked)
      const times = asked.facts.messages
        .filter(
          (message) =>
            isMeant(workflow, message.workflowId, asked) &&
            (step === undefined || step === message.step),
        )
        .flatMap((message) => momentOf(message, did) ?? [])
        .filter((at) => isWithin(at, span))
      return { kind: 'messages', did, workflow, count: times.length, lastAt: latest(times) }
    },
    test: (seen) => seen.kind === 'messages' && seen.count > 0,
    needs: { events: new Map(), entries: false, messages: true },
  }
}

const spanOfAsked = (window: WorkflowsCondition['window'], { facts, enteredAt }: Asked) =>
  spanOf(window, facts.now, enteredAt, facts.shop.zone)

function isMeant(asked: string, workflowId: string, { facts }: Asked): boolean {
  if (asked === 'any') return true
  return workflowId === (asked === 'this' ? facts.self.workflowId : asked)
}

function momentOf(message: PastMessage, did: MessagesCondition['did']): Instant | null {
  if (did === 'got') return message.at
  return did === 'opened' ? message.openedAt : message.clickedAt
}

const latest = (times: readonly Instant[]): Instant | null =>
  times.length === 0 ? null : Math.max(...times)
