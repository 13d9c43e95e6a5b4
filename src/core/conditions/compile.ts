import { assertNever } from '../shared/assertNever.ts'
import type { Asked, CompiledCondition, CompiledTest } from './compiled.ts'
import type { Condition, FieldCondition } from './condition.ts'
import { findField } from './fields.ts'
import { compileHistory } from './history.ts'
import { compileLines } from './lines.ts'
import { NO_NEEDS, needsOfAll } from './needs.ts'
import { ASKS_WHEN, compileOperator, type TestMoment } from './operators.ts'
import { compileMessages, compileWorkflows } from './past.ts'

/** Turns a condition into closures. Expects one that the document schema has accepted. */
export function compileCondition(condition: Condition): CompiledCondition {
  switch (condition.kind) {
    case 'all':
      return all(condition.of.map(compileCondition))
    case 'any':
      return any(condition.of.map(compileCondition))
    case 'not':
      return not(compileCondition(condition.of))
    case 'segment':
      return compileCondition(condition.of)
    case 'field':
      return compileField(condition)
    case 'history':
      return single(
        compileHistory(condition, condition.where ? compileCondition(condition.where) : null),
      )
    case 'lines':
      return single(compileLines(condition, condition.of.map(compileCondition)))
    case 'workflows':
      return single(compileWorkflows(condition))
    case 'messages':
      return single(compileMessages(condition))
    default:
      return assertNever(condition, 'condition')
  }
}

function all(parts: CompiledCondition[]): CompiledCondition {
  return {
    holds: (asked) => {
      for (const part of parts) if (!part.holds(asked)) return false
      return true
    },
    observe: (asked) => parts.flatMap((part) => part.observe(asked)),
    // Each part takes its own observations, so none may be left out.
    judge: (recall, moment) => parts.map((part) => part.judge(recall, moment)).every(Boolean),
    needs: needsOfAll(parts.map(({ needs }) => needs)),
  }
}

function any(parts: CompiledCondition[]): CompiledCondition {
  return {
    holds: (asked) => {
      for (const part of parts) if (part.holds(asked)) return true
      return false
    },
    observe: (asked) => parts.flatMap((part) => part.observe(asked)),
    judge: (recall, moment) => parts.map((part) => part.judge(recall, moment)).some(Boolean),
    needs: needsOfAll(parts.map(({ needs }) => needs)),
  }
}

function not(part: CompiledCondition): CompiledCondition {
  return {
    holds: (asked) => !part.holds(asked),
    observe: part.observe,
    judge: (recall, moment) => !part.judge(recall, moment),
    needs: part.needs,
  }
}

function single({ look, test, needs }: CompiledTest): CompiledCondition {
  return {
    holds: (asked) => test(look(asked), momentOf(asked)),
    observe: (asked) => [look(asked)],
    judge: (recall, moment) => test(recall(), moment),
    needs,
  }
}

function compileField(condition: FieldCondition): CompiledCondition {
  const field = findField(condition.field)
  if (!field) throw new RangeError(`Unknown field "${condition.field}"`)
  const { key } = field
  const test = compileOperator(condition.op, condition.value)
  return {
    holds: ASKS_WHEN[field.type]
      ? (asked) => test(field.read(asked.facts), momentOf(asked))
      : (asked) => test(field.read(asked.facts), NO_MOMENT),
    observe: ({ facts }) => [{ kind: 'field', field: key, value: field.read(facts) }],
    judge: (recall, moment) => {
      const seen = recall()
      if (seen.kind !== 'field') throw new RangeError(`No value of ${key} was observed`)
      return test(seen.value, moment)
    },
    needs: NO_NEEDS,
  }
}

const NO_MOMENT: TestMoment = { now: 0, zone: 'UTC' }

const momentOf = ({ facts }: Asked): TestMoment => ({ now: facts.now, zone: facts.shop.zone })
