import { describe, expect, test } from 'vitest'
import { exampleFindings } from '../check/exampleFindings.ts'
import { differenceWords } from '../words/exampleWords.ts'
import { definitionSchema, type Definition } from '../workflow/definition.ts'
import type { Step } from '../workflow/steps.ts'
import { aDefinition, anEmail, happened, on, ordersEver, wait } from '../../testing/builders.ts'
import { facts } from '../../testing/coreFacts.ts'
import { checkExamples, coverage, exampleOf } from './examples.ts'
import { rehearse } from './rehearse.ts'
import { subjectSchema, type Subject } from '../workflow/rehearsalSubject.ts'

const SHOP = facts().shop
const LINE = {
  productId: 'p1',
  title: 'Hive',
  category: 'Hives',
  quantity: 1,
  unitPriceMinor: 18_900,
}
const subject = (over: Partial<Subject> = {}): Subject =>
  subjectSchema.parse({
    at: '2026-04-14T10:05:00Z',
    customer: { firstName: 'Marta', country: null, zone: null, emailConsent: true, smsConsent: null, hasPhone: false, tags: [] },
    earlier: [],
    lines: [LINE],
    stars: 5,
    dateInDays: 30,
    between: [],
    ...over,
  }) // prettier-ignore

const split: Step = {
  key: 's',
  kind: 'split',
  branches: [{ key: 'known', name: 'Known', when: ordersEver(2), steps: [anEmail('again', { name: 'Good to see you' })] }],
  otherwise: [anEmail('guide', { name: 'Care guide' })],
} // prettier-ignore
const followUp = (over: Partial<Definition> = {}): Definition =>
  aDefinition({
    trigger: on('order.placed'),
    exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
    steps: [wait('days', 'P3D'), split, wait('week', 'P7D'), anEmail('how', { name: 'How is it', purpose: 'marketing' })],
    ...over,
  }) // prettier-ignore

const refunded = subject({ between: [{ key: 'r', what: 'refunded', afterMinutes: 5 * 1440 }] })
const known = subject({ earlier: [{ daysBefore: 50, lines: [LINE] }] })
const PEOPLE = { 'First order': subject(), 'Refunded on day 5': refunded, 'Second order': known }

/** A workflow with the examples of what it does now. */
function withExamples(definition: Definition, people: Record<string, Subject> = PEOPLE): Definition {
  const examples = Object.entries(people).map(([name, one], index) =>
    exampleOf(`e${index}`, name, { subject: one, definition, told: rehearse(definition, one, SHOP) }),
  )
  return definitionSchema.parse({ ...definition, examples })
} // prettier-ignore

/** What the examples say of a changed workflow, in words. */
const said = (definition: Definition): Record<string, string[]> =>
  Object.fromEntries(
    checkExamples(definition, SHOP).flatMap(({ example, zone, differences }) =>
      differences.length === 0
        ? []
        : [
            [
              example.name,
              differences.map((one) => differenceWords(one, definition, zone)),
            ] as const,
          ],
    ),
  )

test('as long as nothing changes every example comes out as kept', () => {
  const kept = withExamples(followUp())
  expect(said(kept)).toEqual({})
  expect(exampleFindings(kept, SHOP)).toEqual([])
})

describe('what a careless change does is caught', () => {
  const kept = withExamples(followUp())
  test('an exclusion that is taken out', () => {
    const changed = { ...kept, exclusions: [] }
    expect(said(changed)).toEqual({
      'Refunded on day 5': ['now gets “How is it”, on 24 April, 11:05'],
    })
    expect(exampleFindings(changed, SHOP)).toMatchObject([
      {
        code: 'examples-differ',
        severity: 'error',
        title: '1 example no longer comes out as kept.',
      },
    ])
  })
  test('a wait that is made longer', () => {
    const [, ...rest] = kept.steps
    expect(said({ ...kept, steps: [wait('days', 'P4D'), ...rest] })['First order']).toEqual([
      'gets “Care guide” on 18 April, 11:05 instead of 17 April, 11:05',
      'gets “How is it” on 25 April, 11:05 instead of 24 April, 11:05',
    ])
  })
  test('a condition that asks for more', () => {
    const asks = { ...split, branches: [{ key: 'known', name: 'Known', when: ordersEver(3), steps: [anEmail('again', { name: 'Good to see you' })] }] } as Step // prettier-ignore
    const steps = kept.steps.map((step) => (step.key === 's' ? asks : step))
    expect(said({ ...kept, steps })).toEqual({
      'Second order': [
        'no longer gets “Good to see you”',
        'now gets “Care guide”, on 17 April, 11:05',
        'takes “Everyone else” instead of “Known”',
      ],
    })
  })
})

test('another draw of an experiment changes no example', () => {
  const drawn = (lottery: string): Definition =>
    followUp({
      steps: [
        {
          key: 'e',
          kind: 'experiment',
          name: 'Which',
          lottery,
          arms: ['a', 'b', 'c', 'd'].map((key) => ({ key, name: key, weight: 1, steps: [anEmail(`m-${key}`)] })),
        },
      ],
    }) // prettier-ignore
  const kept = withExamples(drawn('one'), { Somebody: subject() })
  for (const lottery of ['two', 'three', 'four', 'five']) {
    const { examples } = kept
    expect(said({ ...drawn(lottery), examples })).toEqual({})
  }
})

test('a rule of the shop that keeps a message back is a difference, too', () => {
  const kept = withExamples(followUp({ steps: [anEmail('m', { purpose: 'marketing' })] }), { Somebody: subject() }) // prettier-ignore
  const quiet = { ...SHOP, quietHours: { from: '10:00', to: '20:00' } }
  const [checked] = checkExamples(kept, quiet)
  expect(checked?.differences).toEqual([
    { kind: 'otherTime', step: 'm', at: '2026-04-14T19:00:00Z', expected: '2026-04-14T10:05:00Z' },
  ])
})

test('what no example reaches is named: paths and exclusions', () => {
  const kept = withExamples(followUp(), { 'First order': subject() })
  const { all, missing } = coverage(kept, checkExamples(kept, SHOP))
  expect(all).toBe(3)
  expect(missing).toEqual([
    { kind: 'way', step: 's', branch: 'known' },
    { kind: 'exclusion', key: 'refund' },
  ])
  const whole = withExamples(followUp())
  expect(coverage(whole, checkExamples(whole, SHOP)).missing).toEqual([])
})
