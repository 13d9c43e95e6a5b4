import { zoneOf, type Facts, type ShopFacts } from '../events/facts.ts'
import type { LivedRun, ToldEvent } from '../life/lived.ts'
import { OneLife, type Effects } from '../life/oneLife.ts'
import type { ReorderInterval, ReorderIntervals } from '../reorder/interval.ts'
import { DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import { remembered } from '../shared/remembered.ts'
import { compileProgram, type Program } from '../workflow/compile.ts'
import type { Definition } from '../workflow/definition.ts'
import type { LedgerEntry } from '../workflow/ledgerEntry.ts'
import { withLists } from '../workflow/lists.ts'
import { isBranching, type Step } from '../workflow/steps.ts'
import { beginningOf, eventsOf, SUBJECT } from './events.ts'
import type { Subject } from '../workflow/rehearsalSubject.ts'

/** Nobody looks further ahead. */
const LONGEST_DAYS = 3 * 366

/** What was decided at a moment of a rehearsal. */
export interface RehearsedEntry {
  at: Instant
  /** Which time they came in, from 0; null where they did not. */
  run: number | null
  entry: LedgerEntry
}

/** What a workflow did with somebody made up. */
export interface Rehearsed {
  /** All that was decided, as the ledger would have it. */
  entries: RehearsedEntry[]
  /** How often they came in. */
  runs: number
  /** The zone in which their local times are reckoned. */
  zone: string
}

/**
 * Takes somebody made up through a workflow as it is written, with a clock that jumps from one moment to the next:
 * the workflow alone, every message handed over at once. The interpreter decides, as it does when it is live.
 */
export function rehearse(definition: Definition, subject: Subject, shop: ShopFacts): Rehearsed {
  const life = livedBy(definition, subject, shop, EFFECTS)
  const places = new Map<LivedRun | null, number>(life.runs.map((run, index) => [run, index]))
  const { customer } = life
  return {
    entries: life.entries.map(({ at, run, entry }) => ({ at, entry, run: places.get(run) ?? null })), // prettier-ignore
    runs: life.runs.length,
    zone: customer ? zoneOf({ customer, shop, order: null }) : shop.zone,
  }
}

/** A message on its way to somebody made up, with all that is known of them at that moment. */
export interface Leaving {
  at: Instant
  step: string
  facts: Facts
}

/** So many of a rehearsal are sent to oneself at most: nobody reads more. */
export const MOST_IN_A_SERIES = 30

/** What leaves in a rehearsal, in order of time. */
export function leavingOf(definition: Definition, subject: Subject, shop: ShopFacts): Leaving[] {
  const leaving: Leaving[] = []
  const codes = new Map<LivedRun, Facts['coupons'][number][]>()
  livedBy(definition, subject, shop, {
    issues: (run, decision, at) => {
      const code = EFFECTS.issues(run, decision, at)
      const { step, expiresAt } = decision
      codes.set(run, [...(codes.get(run) ?? []), { step, code, expiresAt }])
      return code
    },
    leaves: (run, step, facts) => {
      // A code of the same moment is known by now.
      leaving.push({ at: facts.now, step, facts: { ...facts, coupons: codes.get(run) ?? [] } })
    },
  })
  return leaving
}

/** Their life with the workflow. */
function livedBy(
  definition: Definition,
  subject: Subject,
  shop: ShopFacts,
  effects: Effects,
): OneLife {
  const workflow = {
    id: 'rehearsed',
    version: 1,
    program: programFor(definition, JSON.stringify(subject.arms ?? {})),
  }
  const beginning = beginningOf(subject)
  const { known, coming } = eventsOf(subject, definition, shop.currency)
  const life = new OneLife(shop, [workflow], effects, asSubjectSays(subject))
  life.live(known, beginning - 1, beginning - 1)
  for (const event of coming) {
    if (READS.has(event.event.type)) readsLast(life, event)
    else life.happens(event)
  }
  const { trigger } = definition
  if (trigger.kind === 'hand')
    life.putIn(workflow, trigger.subject === 'order' ? SUBJECT : null, beginning)
  life.live([], beginning, beginning + LONGEST_DAYS * DAY_MS)
  return life
}

/** What they buy is expected to be bought again on the date that the workflow goes by. */
function asSubjectSays({ lines, earlier, dateInDays }: Subject): ReorderIntervals {
  const days = Math.max(1, Math.round(dateInDays))
  const interval: ReorderInterval = {
    days,
    low: days,
    high: days,
    soon: days,
    late: days,
    again: { share: 1, low: 1, high: 1 },
    purchases: 1,
    repeats: 1,
    variation: null,
  }
  const all = [...lines, ...earlier.flatMap((one) => one.lines)]
  return {
    products: new Map(all.map(({ productId }) => [productId, interval])),
    categories: new Map(),
  }
}

/** Of one workflow many are taken through: it is compiled once for each choice of arms. */
const programsOf = remembered((definition: Definition) => {
  const programs = new Map<string, Program>()
  return (arms: string): Program => {
    const known = programs.get(arms)
    if (known) return known
    const chosen = JSON.parse(arms) as Record<string, string>
    const program = compileProgram(withArms(definition, chosen))
    programs.set(arms, program)
    return program
  }
})

const programFor = (definition: Definition, arms: string): Program => programsOf(definition)(arms)

/** With everybody in the arms that are chosen; the others are drawn, as they would be. */
function withArms(definition: Definition, chosen: Readonly<Record<string, string>>): Definition {
  if (Object.keys(chosen).length === 0) return definition
  const inSteps = (steps: readonly Step[]): Step[] =>
    steps.map((step) => {
      if (!isBranching(step)) return step
      const inner = withLists(step, inSteps)
      const arm = chosen[step.key]
      if (inner.kind !== 'experiment' || !inner.arms.some(({ key }) => key === arm)) return inner
      return { ...inner, arms: inner.arms.map((one) => ({ ...one, weight: one.key === arm ? 1 : 0 })) } // prettier-ignore
    })
  return { ...definition, steps: inSteps(definition.steps) }
}

/** Nothing leaves, and a code is none that anybody could use. */
const EFFECTS: Effects = {
  leaves: () => undefined,
  issues: (run, { step }) => {
    const instruction = run.workflow.program.instructions.get(step)
    if (instruction?.kind !== 'action' || instruction.step.kind !== 'coupon') return 'XXXXXX'
    return instruction.step.pattern.replaceAll('#', 'X')
  },
}

const READS: ReadonlySet<string> = new Set(['message.opened', 'message.clicked'])

/** They see the last message they have got by then, or follow a link in it. */
function readsLast(life: OneLife, event: ToldEvent): void {
  life.happens(event, () => {
    const last = life.messages.at(-1)
    if (!last) return
    last.openedAt ??= event.at
    if (event.event.type === 'message.clicked') last.clickedAt ??= event.at
  })
}
