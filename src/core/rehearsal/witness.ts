import type { ShopFacts } from '../events/facts.ts'
import { seededRandom, type Random } from '../shared/seededRandom.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import { isBranching, type Step } from '../workflow/steps.ts'
import { HAPPENINGS, type Happening, type Subject } from '../workflow/rehearsalSubject.ts'
import { outcomeOf, type Reachable } from './examples.ts'
import { rehearse } from './rehearse.ts'

export interface Search {
  definition: Definition
  target: Reachable
  /** Whoever is on the screen: others are made of them. */
  start: Subject
  /** What can be ordered, one piece each. */
  products: Subject['lines']
  shop: ShopFacts
  /** After so many it is given up; left out: after some thousands. */
  mostTries?: number
}

/** So many are tried at most; a few seconds' work. */
const MOST_TRIES = 4000
/** Between two breaths. */
const AT_ONCE = 20

/**
 * Looks for somebody who takes a path or whom an exclusion holds back. Goes up to it: of all who differ in one thing
 * from the best so far, the one who comes nearest is the next best; then in two things, then in any number, drawn by
 * a seed. Yields now and then, so that others get a turn. Returns null where nobody is found, which is no proof that
 * there is nobody.
 */
export function* findWitness(search: Search): Generator<void, Subject | null> {
  const things = dimensions(search)
  let best = tried(search, onTheWay(search))
  let tries = 1
  for (let round = 0; round < MOST_ROUNDS && best.score < FOUND; round += 1) {
    const from = best
    for (const change of things.flat()) {
      tries += 1
      if (tries % AT_ONCE === 0) yield
      const one = tried(search, change(from.subject))
      if (one.score > best.score) best = one
      if (best.score >= FOUND) return best.subject
    }
    if (best === from) break
  }
  if (best.score >= FOUND) return best.subject
  for (const subject of farther(best.subject, things)) {
    tries += 1
    if (tries > (search.mostTries ?? MOST_TRIES)) return null
    if (tries % AT_ONCE === 0) yield
    if (tried(search, subject).score >= FOUND) return subject
  }
  return null
}

const MOST_ROUNDS = 5
/** The score of whoever is looked for; less is how near somebody comes. */
const FOUND = 1000

interface Tried {
  subject: Subject
  score: number
}

function tried(search: Search, subject: Subject): Tried {
  const { definition, shop, target } = search
  const { runs, ways, exclusions, messages } = outcomeOf(rehearse(definition, subject, shop))
  const isThere =
    target.kind === 'exclusion'
      ? exclusions.includes(target.key)
      : ways.some(({ step, branch }) => step === target.step && branch === target.branch)
  if (isThere) return { subject, score: FOUND }
  if (runs === 0) return { subject, score: 0 }
  const isBeside = target.kind === 'way' && ways.some(({ step }) => step === target.step)
  // On the way there counts most; then who gets more of it, for more can come of them.
  const along = target.kind === 'way' ? alongWay(definition.steps, target.step, ways) : 0
  return {
    subject,
    score: 1 + 20 * along + (isBeside ? 10 : 0) + Math.min(9, messages.length) / 10,
  }
}

/** How many of the paths that lead to a step were taken. */
function alongWay(
  steps: readonly Step[],
  key: string,
  taken: readonly { step: string; branch: string | null }[],
): number {
  for (const step of steps) {
    if (!isBranching(step)) continue
    for (const list of listsOf(step)) {
      if (!allSteps(list.steps).some((one) => one.key === key)) continue
      const isTaken = taken.some((one) => one.step === step.key && one.branch === list.branch)
      return (isTaken ? 1 : 0) + alongWay(list.steps, key, taken)
    }
  }
  return 0
}

type Change = (subject: Subject) => Subject

/** Who differs in two things, and then in any number. */
function* farther(start: Subject, things: readonly Change[][]): Generator<Subject> {
  for (const [index, changes] of things.entries()) {
    for (const others of things.slice(index + 1)) {
      const pairs = Math.min(MOST_PAIRS, changes.length * others.length)
      const random = seededRandom(index)
      for (let pair = 0; pair < pairs; pair += 1) {
        yield random.pick(others)(random.pick(changes)(start))
      }
    }
  }
  const random = seededRandom(1)
  for (;;) yield anybody(start, things, random)
}

/** Of two things that are changed together so many are tried at most. */
const MOST_PAIRS = 150

const anybody = (start: Subject, things: readonly Change[][], random: Random): Subject =>
  things.reduce((subject, changes) => (random.chance(0.5) ? random.pick(changes)(subject) : subject), start) // prettier-ignore

/** With the arms that lead to what is looked for. */
function onTheWay({ definition, target, start }: Search): Subject {
  if (target.kind === 'exclusion') return start
  const arms = armsTo(definition.steps, target.step, target.branch)
  return arms ? { ...start, arms: { ...start.arms, ...arms } } : start
}

/** The arms of the experiments on the way to a path, that path's own included; null where it does not lie there. */
function armsTo(
  steps: readonly Step[],
  key: string,
  branch: string | null,
): Record<string, string> | null {
  for (const step of steps) {
    if (!isBranching(step)) continue
    const chosen = (arm: string | null): Record<string, string> =>
      step.kind === 'experiment' && arm !== null ? { [step.key]: arm } : {}
    if (step.key === key) return chosen(branch)
    for (const list of listsOf(step)) {
      const inner = armsTo(list.steps, key, branch)
      if (inner) return { ...chosen(list.branch), ...inner }
    }
  }
  return null
}

/** In what people can differ, each with the ways in which they do. */
function dimensions({ definition, products, start }: Search): Change[][] {
  const lines = products.length > 0 ? products : start.lines
  return [
    baskets(lines).map((ordered): Change => (one) => ({ ...one, lines: ordered })),
    happenings().map((between): Change => (one) => ({ ...one, between: [...one.between, ...between] })),
    pasts(lines).map((earlier): Change => (one) => ({ ...one, earlier })),
    [true, false].map((given): Change => (one) => ({ ...one, customer: { ...one.customer, emailConsent: given, smsConsent: given } })),
    datesOf(definition).map((dateInDays): Change => (one) => ({ ...one, dateInDays })),
    [5, 1, 3].map((stars): Change => (one) => ({ ...one, stars })),
    namedIn(definition).map(({ countries, tags }): Change => (one) => ({ ...one, customer: { ...one.customer, country: countries[0] ?? one.customer.country, tags } })),
    armsIn(definition).map((arms): Change => (one) => ({ ...one, arms: { ...arms, ...one.arms } })),
  ].filter((changes) => changes.length > 0)
} // prettier-ignore

/** How far the date is that a workflow goes by; nothing to differ in where it goes by none. */
function datesOf({ trigger }: Definition): readonly number[] {
  return trigger.kind === 'date' ? [4, 1, 60] : []
}

/** Each thing by itself, dear ones and many of them, and one of two kinds together. */
function baskets(products: Subject['lines']): Subject['lines'][] {
  const kinds = products.filter(
    ({ category }, index) => products.findIndex((one) => one.category === category) === index,
  )
  const pairs = kinds.flatMap((one, index) => kinds.slice(index + 1).map((other) => [one, other]))
  const many = [10, 100].flatMap((quantity) => kinds.map((one) => [{ ...one, quantity }]))
  return [...products.map((one) => [one]), ...pairs, ...many]
}

const AFTER_MINUTES = [5, 70, 1440, 4 * 1440, 10 * 1440, 25 * 1440] as const
const STARS = [1, 5] as const

function happenings(): Happening[][] {
  const one = (what: Happening['what'], afterMinutes: number, stars?: number): Happening[] => [
    { key: `${what}-${afterMinutes}`, what, afterMinutes, ...(stars !== undefined && { stars }) },
  ]
  return AFTER_MINUTES.flatMap((after) =>
    HAPPENINGS.flatMap((what) =>
      what === 'review' ? STARS.map((stars) => one(what, after, stars)) : [one(what, after)],
    ),
  )
}

/** Nothing before, and some orders of each kind of thing. */
function pasts(products: Subject['lines']): Subject['earlier'][] {
  const kinds = products.filter(
    ({ category }, index) => products.findIndex((one) => one.category === category) === index,
  )
  const orders = (count: number, line: Subject['lines'][number]) =>
    Array.from({ length: count }, (_, index) => ({ daysBefore: 20 * (index + 1), lines: [line] }))
  return [[], ...kinds.flatMap((line) => [1, 2, 5, 10].map((count) => orders(count, line)))]
}

/** Countries and tags that the workflow names: nobody else could be meant by them. */
function namedIn(definition: Definition): { countries: string[]; tags: string[] }[] {
  const text = JSON.stringify([definition.trigger, definition.steps, definition.exclusions])
  const countries = [...text.matchAll(/"([A-Z]{2})"/g)].map(([, country = '']) => country)
  const tags = [...text.matchAll(/"field":"customer\.tags"[^}]*?"value":\[([^\]]*)\]/g)]
    .flatMap(([, list = '']) => JSON.parse(`[${list}]`) as string[])
    .slice(0, 20)
  const each = [
    ...Array.from(new Set(countries), (country) => ({ countries: [country], tags: [] })),
    ...(tags.length > 0 ? [{ countries: [], tags: [...new Set(tags)] }] : []),
  ]
  return each
}

/** Each arm of each experiment. */
function armsIn(definition: Definition): Record<string, string>[] {
  return allSteps(definition.steps).flatMap((step) =>
    step.kind === 'experiment' ? step.arms.map(({ key }) => ({ [step.key]: key })) : [],
  )
}
