import type {
  Condition,
  FieldCondition,
  HistoryCondition,
  Window,
} from '../../conditions/condition.ts'
import { findField, type Field } from '../../conditions/fields.ts'
import { canFill, type Trigger } from '../../workflow/trigger.ts'
import { domainOf } from './fieldDomain.ts'
import { casesOf, combined, type Case, type Literal } from './literals.ts'
import { compared, complement, intersect, between, type Ranges } from './ranges.ts'

/** A condition and what must come of it. */
export interface Claim {
  condition: Condition
  holds: boolean
}

/**
 * Whether there can be somebody for whom all the claims are true at one moment. It reckons with
 * intervals and sets over the fields' values and with counts of events; what it cannot reckon with it
 * takes for possible. So "no" is certain, "yes" is not.
 */
export function arePossible(claims: readonly Claim[], trigger: Trigger): boolean {
  let cases: Case[] | null = [[]]
  for (const { condition, holds } of claims) {
    const own = casesOf(condition, holds)
    const possible = own?.filter((one) => isPossible(one, trigger)) ?? null
    cases = possible && combined(cases, possible)
    if (!cases) return true
    cases = cases.filter((one) => isPossible(one, trigger))
  }
  return cases.length > 0
}

function isPossible(literals: Case, trigger: Trigger): boolean {
  if (contradictsItself(literals)) return false
  const fields = groupedBy(literals, ({ test }) => (test.kind === 'field' ? test.field : null))
  const histories = groupedBy(literals, ({ test }) =>
    test.kind === 'history' ? keyOfHistory(test) : null,
  )
  return (
    [...fields].every(([key, group]) => isFieldPossible(key, group, trigger)) &&
    areCountsPossible([...histories.values()])
  )
}

/** The very same test that holds and does not. */
function contradictsItself(literals: Case): boolean {
  const said = new Map<string, boolean>()
  return literals.some(({ test, holds }) => {
    const key = JSON.stringify(test)
    const before = said.get(key)
    said.set(key, holds)
    return before !== undefined && before !== holds
  })
}

function groupedBy(
  literals: Case,
  keyOf: (literal: Literal) => string | null,
): Map<string, Literal[]> {
  const groups = new Map<string, Literal[]>()
  for (const literal of literals) {
    const key = keyOf(literal)
    if (key !== null) groups.set(key, [...(groups.get(key) ?? []), literal])
  }
  return groups
}

/** A field may be unknown, or have a value that all tests allow. */
function isFieldPossible(key: string, group: readonly Literal[], trigger: Trigger): boolean {
  const field = findField(key)
  if (!field) return true
  let mayBeUnknown = !isAlwaysKnown(field, trigger)
  let domain = domainOf(field)
  let mayBeKnown = true
  for (const { test, holds } of group) {
    const condition = test as FieldCondition
    if (condition.op === 'known' || condition.op === 'notKnown') {
      if ((condition.op === 'known') === holds) mayBeUnknown = false
      else mayBeKnown = false
      continue
    }
    // Something unknown passes no test.
    if (holds) mayBeUnknown = false
    domain = domain.narrow(condition, holds)
  }
  return mayBeUnknown || (mayBeKnown && !domain.isEmpty())
}

const HAVE_LINES: ReadonlySet<string> = new Set(['order', 'checkout', 'basket'])

/** What is known of everybody who can get here. */
function isAlwaysKnown(field: Field, trigger: Trigger): boolean {
  if (field.about === 'customer') return field.type === 'list'
  if (!canFill(trigger, field.about)) return false
  if (field.printed?.always ?? false) return true
  return field.type === 'choice' || (HAVE_LINES.has(field.about) && field.type === 'list')
}

function keyOfHistory({ event, about, window, where }: HistoryCondition): string {
  return JSON.stringify([event, about, window, where ?? null])
}

const COMPARED = { atLeast: 'gte', atMost: 'lte', exactly: 'eq' } as const

/** Counts are whole numbers from 0, and of a longer time never smaller. */
function areCountsPossible(groups: readonly (readonly Literal[])[]): boolean {
  const counts = groups.flatMap((group) => {
    const first = group[0]?.test
    return first?.kind === 'history' ? [{ of: first, set: countsOf(group) }] : []
  })
  if (counts.some(({ set }) => set.length === 0)) return false
  return counts.every((inner) =>
    counts.every(
      (outer) =>
        !isPartOf(inner.of, outer.of) ||
        (inner.set[0]?.from ?? 0) <= (outer.set.at(-1)?.to ?? Infinity),
    ),
  )
}

function countsOf(group: readonly Literal[]): Ranges {
  return group.reduce<Ranges>(
    (set, { test, holds }) => {
      const { op, times } = (test as HistoryCondition).count
      const own = compared(COMPARED[op], times)
      return intersect(set, holds ? own : complement(own))
    },
    between(0, Infinity),
  )
}

/** True when whatever one counts, the other counts too. */
function isPartOf(inner: HistoryCondition, outer: HistoryCondition): boolean {
  if (inner === outer || inner.event !== outer.event) return false
  const isNarrower = inner.about === outer.about || outer.about === 'customer'
  const isLike =
    outer.where === undefined || JSON.stringify(inner.where) === JSON.stringify(outer.where)
  return isNarrower && isLike && isWithin(inner.window, outer.window)
}

function isWithin(inner: Window, outer: Window): boolean {
  if (outer.kind === 'ever') return true
  if (inner.kind === 'lastDays' && outer.kind === 'lastDays') return inner.days <= outer.days
  return JSON.stringify(inner) === JSON.stringify(outer)
}
