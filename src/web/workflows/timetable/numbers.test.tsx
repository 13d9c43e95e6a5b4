import { screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { Definition } from '../../../core/workflow/definition.ts'
import { stepKeys } from '../../../core/workflow/lists.ts'
import type { Step } from '../../../core/workflow/steps.ts'
import { aDefinition, anEmail, ordersEver } from '../../../testing/builders.ts'
import { NO_NUMBERS } from '../../testing/listItem.ts'
import { show } from '../../testing/screen.tsx'
import { countedIn, isCounted, type ShownNumbers } from '../numbers/shownNumbers.ts'
import { WordsProvider } from '../../ui/data/words.tsx'
import { Timetable } from './Timetable.tsx'

const splitInto = (...keys: string[]): Step => ({
  key: 's',
  kind: 'split',
  branches: keys.map((key) => ({ key, name: `Path ${key}`, when: ordersEver(2), steps: [] })),
  otherwise: [],
})

/** Of a replay of a definition, in which 20 of 30 came onto path a and got the message. */
const numbersOf = ({ steps }: Definition): ShownNumbers => ({
  total: { ...NO_NUMBERS, entered: 30, nextDueAt: null },
  steps: [{ step: 'm', waiting: 0, sent: 20, skipped: 0, left: 0, failed: 0, done: 0 }],
  branches: [{ step: 's', branch: 'a', taken: 20 }],
  earned: { steps: [], branches: [] },
  exclusions: [],
  onOlderVersions: 0,
  isReplay: true,
  counted: new Set(stepKeys(steps)),
})

/** The timetable of a definition with the numbers of another; the words of a button on it. */
function shown(definition: Definition, numbers: ShownNumbers): (name: string) => string | null {
  show(
    <WordsProvider>
      <Timetable
        definition={definition}
        numbers={numbers}
        corner="who"
        selection={{ kind: 'workflow' }}
        onSelect={() => {}}
        editing={undefined}
        marks={() => undefined}
        whole={false}
      />
    </WordsProvider>,
    { '/api/counter/products': [], '/api/workflows': [] },
  )
  const table = within(screen.getByRole('group', { name: 'Timetable' }))
  return (name) => table.getByRole('button', { name }).textContent
}

test('who gets to what was added since is not said, and not said to be nobody', () => {
  const before = aDefinition({ steps: [anEmail('m', { name: 'Thanks' }), splitInto('a')] })
  const since = aDefinition({
    steps: [anEmail('m', { name: 'Thanks' }), splitInto('a', 'b'), anEmail('n', { name: 'Later' })],
  })
  const wordsOf = shown(since, numbersOf(before))
  expect(wordsOf('Email: Thanks')).toContain('20 go')
  expect(wordsOf('Email: Later')).not.toMatch(/\d/)
  expect(screen.getAllByText(/ of 30/).map(({ textContent }) => textContent)).toEqual([
    '20 of 30',
    '0 of 30',
  ])
})

test('what has happened stands beside no condition that is another since', () => {
  const ordered = (times: number) => ({ key: 'x', when: ordersEver(times), effect: 'leave' as const }) // prettier-ignore
  const live = aDefinition({
    steps: [anEmail('m', { name: 'Thanks' }), anEmail('k'), splitInto('a', 'b')],
    exclusions: [ordered(2), { ...ordered(3), key: 'y' }],
  })
  const branches = [
    { key: 'a', name: 'Path a', when: ordersEver(5), steps: [] },
    { key: 'b', name: 'Renamed', when: ordersEver(2), steps: [] },
  ]
  const draft = aDefinition({
    steps: [
      anEmail('m', { name: 'Thanks', onlyIf: ordersEver(1) }),
      anEmail('k', { subject: 'Other words' }),
      { key: 's', kind: 'split', branches, otherwise: [] },
      anEmail('n'),
    ],
    exclusions: [ordered(4), { ...ordered(3), key: 'y' }],
  })
  expect([...countedIn(live, draft)].toSorted()).toEqual(['b', 'k', 's', 'y'])
  const wordsOf = shown(draft, { ...numbersOf(live), counted: countedIn(live, draft) })
  expect(wordsOf('Email: Thanks')).not.toMatch(/\d/)
  expect(wordsOf('Path: Path a')).toBe('Path a')
})

test('what was there when it was counted, and got nobody, says so', () => {
  const steps = [anEmail('m', { name: 'Thanks' }), splitInto('a'), anEmail('n', { name: 'Later' })]
  const definition = aDefinition({ steps })
  expect(shown(definition, numbersOf(definition))('Email: Later')).toContain('0 go')
})

test('what has happened is known of everything', () => {
  const { counted: _counted, ...live } = numbersOf(aDefinition({ steps: [] }))
  expect(isCounted(live, 'any', 'path')).toBe(true)
})
