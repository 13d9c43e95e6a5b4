import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { definitions } from '../../testing/model/arbitraries.ts'
import { happenings, shopRules } from '../../testing/model/happenings.ts'
import { interpret } from '../../testing/model/inMemory.ts'
import { naively } from '../../testing/model/naive.ts'
import { redo } from '../../testing/model/redo.ts'
import { traceOf } from '../../testing/model/trace.ts'
import { addDuration } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import { compileProgram } from './compile.ts'
import { definitionSchema } from './definition.ts'
import type { Decided } from './simulate.ts'
import { isMessage } from './steps.ts'
import { allSteps } from './lists.ts'

const cases = fc.tuple(definitions, happenings, shopRules)

/** The time a run counts from: its entry says by how much that was before it was looked at. */
function enteredAt(one: Decided | undefined): Instant {
  if (one?.decision.kind !== 'entered') throw new Error('A run begins with its entry')
  return one.at - (one.decision.lateMs ?? 0)
}

test('every document that is generated is valid', () => {
  fc.assert(
    fc.property(definitions, (definition) => {
      expect(definitionSchema.safeParse(definition).error).toBeUndefined()
    }),
  )
})

test('the interpreter decides what the naive one decides, at the same times', () => {
  fc.assert(
    fc.property(cases, ([definition, list, rules]) => {
      const ours = interpret(definition, list, rules).flatMap(
        ({ at, decision }) => traceOf(at, decision) ?? [],
      )
      expect(ours).toEqual(naively(definition, list, rules))
    }),
    { numRuns: 1500 },
  )
}, 60_000)

test('the ledger alone is enough to decide everything again, and the same', () => {
  fc.assert(
    fc.property(cases, ([definition, list, rules]) => {
      const program = compileProgram(definition)
      const decided = interpret(definition, list, rules)
      for (const run of new Set(decided.flatMap((one) => one.run ?? []))) {
        const [entered, ...written] = decided.filter((one) => one.run === run)
        expect(redo(program, rules, enteredAt(entered), written)).toEqual(
          written.map(({ decision }) => decision),
        )
      }
    }),
    { numRuns: 600 },
  )
}, 60_000)

describe('whatever the workflow and the history', () => {
  const check = (
    invariant: (decided: Decided[], of: (run: number) => Decided[], index: number) => void,
  ) =>
    fc.assert(
      fc.property(cases, ([definition, list, rules]) => {
        const decided = interpret(definition, list, rules)
        const of = (run: number) => decided.filter((one) => one.run === run)
        invariant(decided, of, 0)
      }),
      { numRuns: 300 },
    )

  test('every run comes to an end, and is decided of no more', () => {
    check((decided, of) => {
      for (const run of new Set(decided.flatMap((one) => one.run ?? []))) {
        const kinds = of(run).map(({ decision }) => decision.kind)
        const ends = kinds.filter((kind) => kind === 'ended' || kind === 'left')
        const past = of(run).filter(
          ({ decision }) => decision.kind === 'datePast' && decision.did === 'leave',
        )
        expect(ends.length + past.length).toBe(1)
        expect(['ended', 'left', 'datePast']).toContain(kinds.at(-1))
      }
    })
  })

  test('a message is decided once at most in a run', () => {
    check((decided) => {
      const keys = decided.flatMap(({ run, decision }) =>
        decision.kind === 'sends' || decision.kind === 'skipped' ? [`${run} ${decision.step}`] : [],
      )
      expect(new Set(keys).size).toBe(keys.length)
    })
  })

  test('nobody gets a message once an exclusion made them leave', () => {
    check((decided, of) => {
      for (const { run, decision } of decided) {
        if (decision.kind !== 'left' || run === null) continue
        expect(of(run).at(-1)?.decision).toBe(decision)
      }
    })
  })
})

test('two marketing messages to one person are never closer than the message gap', () => {
  fc.assert(
    fc.property(definitions, happenings, (definition, list) => {
      const rules = { messageGap: 'P2D', quietHours: null, holdout: null }
      const marketing = new Set(
        allSteps(definition.steps).flatMap((step) =>
          isMessage(step) && step.kind !== 'note' && step.purpose === 'marketing' ? [step.key] : [],
        ),
      )
      const times = interpret(definition, list, rules).flatMap(({ at, decision }) =>
        decision.kind === 'sends' && marketing.has(decision.step) ? [at] : [],
      )
      times.slice(1).forEach((at, index) => {
        expect(at).toBeGreaterThanOrEqual(addDuration(times[index] ?? 0, 'P2D', 'Europe/Dublin'))
      })
    }),
    { numRuns: 300 },
  )
})
