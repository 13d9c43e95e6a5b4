import type { Condition, TestCondition } from './condition.ts'

/** A condition with each of its single tests changed; not those inside a test of lines or events. */
export function mapTests(
  condition: Condition,
  change: (test: TestCondition) => TestCondition,
): Condition {
  switch (condition.kind) {
    case 'all':
    case 'any':
      return { ...condition, of: condition.of.map((one) => mapTests(one, change)) }
    case 'not':
    case 'segment':
      return { ...condition, of: mapTests(condition.of, change) }
    case 'field':
    case 'history':
    case 'lines':
    case 'messages':
    case 'workflows':
      return change(condition)
  }
}
