import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { HAPPENINGS, type Happening, type HappeningKind, type Subject } from '../workflow/rehearsalSubject.ts' // prettier-ignore

/** One thing that could be otherwise of somebody made up. As data: it is said in `words/differWords.ts`. */
export type SubjectChange =
  | { what: 'consent'; channel: 'email' | 'sms'; given: boolean }
  | { what: 'email' }
  | { what: 'phone'; has: boolean }
  | { what: 'country'; country: string }
  | { what: 'tag'; tag: string; has: boolean }
  | { what: 'without'; happening: Happening }
  | { what: 'with'; happening: Happening }
  | { what: 'earlier'; orders: number; line: Subject['lines'][number] | null }
  | { what: 'ordered'; line: Subject['lines'][number] }
  | { what: 'amount'; times: number }
  | { what: 'stars'; stars: number }
  | { what: 'date'; days: number }
  | { what: 'arm'; step: string; arm: string }

/** The subject as it would be then. */
export function changed(subject: Subject, change: SubjectChange): Subject {
  const { customer, between } = subject
  switch (change.what) {
    case 'consent':
      return { ...subject, customer: { ...customer, [`${change.channel}Consent`]: change.given } }
    case 'email':
      return { ...subject, customer: { ...customer, hasEmail: true } }
    case 'phone':
      return { ...subject, customer: { ...customer, hasPhone: change.has } }
    case 'country':
      // A zone of their own would outweigh it.
      return { ...subject, customer: { ...customer, country: change.country, zone: null } }
    case 'tag':
      return {
        ...subject,
        customer: {
          ...customer,
          tags: change.has
            ? [...customer.tags, change.tag]
            : customer.tags.filter((tag) => tag !== change.tag),
        },
      }
    case 'without':
      return { ...subject, between: between.filter(({ key }) => key !== change.happening.key) }
    case 'with':
      return { ...subject, between: [...between, change.happening] }
    case 'earlier':
      return { ...subject, earlier: earlierOrders(change) }
    case 'ordered':
      return { ...subject, lines: [change.line] }
    case 'amount':
      return {
        ...subject,
        lines: subject.lines.map((line) => ({ ...line, quantity: line.quantity * change.times })),
      }
    case 'stars':
      return { ...subject, stars: change.stars }
    case 'date':
      return { ...subject, dateInDays: change.days }
    case 'arm':
      return { ...subject, arms: { ...subject.arms, [change.step]: change.arm } }
  }
}

const EVERY_DAYS = 20

function earlierOrders({ orders, line }: Extract<SubjectChange, { what: 'earlier' }>) {
  if (line === null) return []
  return Array.from({ length: orders }, (_, index) => ({
    daysBefore: EVERY_DAYS * (index + 1),
    lines: [line],
  }))
}

/** After so many minutes something else could happen to them: at once, within hours, days, weeks. */
const AFTER_MINUTES = [5, 70, 1440, 4 * 1440, 10 * 1440, 25 * 1440] as const
/** So many of the shop's products are tried in the place of what is ordered: each kind of thing, and what the workflow names. */
const MOST_PRODUCTS = 40

/** All single things that could be otherwise, those that people think of first before the others. */
export function subjectChanges(
  definition: Definition,
  subject: Subject,
  products: Subject['lines'],
): SubjectChange[] {
  const { customer, between, lines, earlier, stars, dateInDays } = subject
  const text = JSON.stringify([definition.trigger, definition.steps, definition.exclusions])
  const line = lines[0] ?? products[0] ?? null
  const times = (given: boolean | null): boolean[] =>
    [true, false].filter((value) => value !== given)
  return [
    ...times(customer.emailConsent).map((given) => ({ what: 'consent', channel: 'email', given }) as const), // prettier-ignore
    ...times(customer.smsConsent).map((given) => ({ what: 'consent', channel: 'sms', given }) as const), // prettier-ignore
    // To take an address away would turn every answer, and tell nobody anything.
    ...(customer.hasEmail === false ? [{ what: 'email' } as const] : []),
    { what: 'phone', has: !customer.hasPhone },
    ...between.map((happening) => ({ what: 'without', happening }) as const),
    ...(earlier.length > 0 ? [{ what: 'earlier', orders: 0, line: null } as const] : []),
    ...[1, 2, 5, 10].filter((orders) => orders !== earlier.length).map((orders) => ({ what: 'earlier', orders, line }) as const), // prettier-ignore
    ...[10, 100].map((more) => ({ what: 'amount', times: more }) as const),
    ...otherThings(products, lines, text).map((one) => ({ what: 'ordered', line: one }) as const),
    ...namedCountries(text, customer.country).map((country) => ({ what: 'country', country }) as const), // prettier-ignore
    ...namedTags(text).map((tag) => ({ what: 'tag', tag, has: !customer.tags.includes(tag) }) as const), // prettier-ignore
    ...(definition.trigger.kind === 'event' && definition.trigger.event === 'review.submitted'
      ? [1, 2, 3, 4, 5].filter((one) => one !== stars).map((one) => ({ what: 'stars', stars: one }) as const) // prettier-ignore
      : []),
    ...[1, 4, 60].filter((days) => days !== dateInDays).map((days) => ({ what: 'date', days }) as const), // prettier-ignore
    ...otherArms(definition),
    ...AFTER_MINUTES.flatMap((afterMinutes) =>
      HAPPENINGS.flatMap((what) => happeningsOf(what, afterMinutes)),
    ).map((happening) => ({ what: 'with', happening }) as const),
  ]
}

function happeningsOf(what: HappeningKind, afterMinutes: number): Happening[] {
  const one = { key: `if-${what}-${afterMinutes}`, what, afterMinutes }
  return what === 'review' ? [5, 1].map((stars) => ({ ...one, key: `${one.key}-${stars}`, stars })) : [one] // prettier-ignore
}

/** One thing of each kind, and whatever the workflow names. */
function otherThings(
  products: Subject['lines'],
  lines: Subject['lines'],
  text: string,
): Subject['lines'] {
  const ordered = new Set(lines.map(({ productId }) => productId))
  const named = products.filter(({ productId }) => text.includes(JSON.stringify(productId)))
  const kinds = products.filter(
    ({ category }, index) => products.findIndex((one) => one.category === category) === index,
  )
  return [...new Set([...named, ...kinds])]
    .filter(({ productId }) => !ordered.has(productId))
    .slice(0, MOST_PRODUCTS)
}

function namedCountries(text: string, own: string | null): string[] {
  const countries = [...text.matchAll(/"([A-Z]{2})"/g)].map(([, country = '']) => country)
  return [...new Set(countries)].filter((country) => country !== own)
}

function namedTags(text: string): string[] {
  const lists = [...text.matchAll(/"field":"customer\.tags"[^}]*?"value":\[([^\]]*)\]/g)]
  const tags = lists.flatMap(([, list = '']) => JSON.parse(`[${list}]`) as string[])
  return [...new Set(tags)].slice(0, 20)
}

const otherArms = (definition: Definition): SubjectChange[] =>
  allSteps(definition.steps).flatMap((step) =>
    step.kind === 'experiment'
      ? step.arms.map(({ key }): SubjectChange => ({ what: 'arm', step: step.key, arm: key }))
      : [],
  )
