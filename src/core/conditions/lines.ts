import type { Facts, LineFacts } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { CompiledCondition, CompiledTest } from './compiled.ts'
import type { LinesCondition } from './condition.ts'
import { NO_NEEDS, type Needs } from './needs.ts'
import type { Observation } from './observation.ts'

const ORDERS: Needs = { events: new Map([['order.placed', true]]), entries: false, messages: false }

/** "Contains, contains only, contains none of, contains both", over the lines of something. */
export function compileLines(
  condition: LinesCondition,
  tests: readonly CompiledCondition[],
): CompiledTest {
  return {
    look: ({ facts, enteredAt }) => {
      const lines = condition.on === 'subject' ? subjectLines(facts) : orderedLines(facts)
      const verdicts = lines.map((line) =>
        tests.map((test) => test.holds({ facts: { ...facts, line }, enteredAt })),
      )
      return {
        kind: 'lines',
        on: condition.on,
        lines: lines.length,
        like: tests.map((_, index) => verdicts.filter((verdict) => verdict[index]).length),
        likeAny: verdicts.filter((verdict) => verdict.some(Boolean)).length,
      }
    },
    test: (seen) => seen.kind === 'lines' && holds(condition.how, seen),
    needs: condition.on === 'subject' ? NO_NEEDS : ORDERS,
  }
}

/** Where there are no lines nothing is known of them: only `none` holds. */
function holds(
  how: LinesCondition['how'],
  { lines, like, likeAny }: Extract<Observation, { kind: 'lines' }>,
): boolean {
  switch (how) {
    case 'some':
      return likeAny > 0
    case 'every':
      return lines > 0 && likeAny === lines
    case 'none':
      return likeAny === 0
    case 'both':
      return like.every((count) => count > 0)
    default:
      return assertNever(how, 'kind of contents')
  }
}

function subjectLines(facts: Facts): readonly LineFacts[] {
  const { order, checkout, basket, line } = facts
  return order?.lines ?? checkout?.lines ?? basket?.lines ?? (line ? [line] : [])
}

function orderedLines(facts: Facts): LineFacts[] {
  return facts.history
    .filter(({ type, at }) => type === 'order.placed' && at <= facts.now)
    .flatMap(({ entity }) => entity?.order?.lines ?? [])
}
