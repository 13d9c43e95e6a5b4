import { describe, expect, test } from 'vitest'
import { z } from 'zod'
import { aDefinition, anEmail, ordersEver, wait } from '../../testing/builders.ts'
import { definitionSchema } from '../workflow/definition.ts'
import type { Step } from '../workflow/steps.ts'
import { inputProblem } from './inputProblem.ts'
import { problemPlace } from './problemPlace.ts'

/** What is said of a value that a schema cannot take. */
function said(schema: z.ZodType, value: unknown): string | undefined {
  return schema.safeParse(value, { error: inputProblem }).error?.issues[0]?.message
}

describe('what is wrong with an input, in words', () => {
  test.each([
    [z.string().max(300), 'x'.repeat(301), 'is longer than 300 characters'],
    [z.string().min(1), '', 'is empty'],
    [z.string().min(8), 'x', 'is shorter than 8 characters'],
    [z.array(z.string()).max(2), ['a', 'b', 'c'], 'has more than 2 of them'],
    [z.array(z.string()).min(1), [], 'is empty'],
    [z.int().min(0), -1, 'must be at least 0'],
    [z.int().max(100), 101, 'must be at most 100'],
    [z.number().positive(), 0, 'must be more than 0'],
    [z.number(), 'x', 'must be a number'],
    [z.int(), 1.5, 'must be a whole number'],
    [z.string(), undefined, 'is missing'],
    [z.email(), 'x', 'is not an email address'],
    [z.enum(['a', 'b']), 'c', 'must be one of a, b'],
    [z.literal(1), 2, 'must be 1'],
    [z.strictObject({}), { x: 1 }, 'has parts that are not known: x'],
    [z.union([z.string(), z.number()]), true, 'is nothing that can stand here'],
    // What a schema says itself is said.
    [z.string().min(1, 'Give it a name'), '', 'Give it a name'],
  ])('%#: %o', (schema, value, words) => {
    expect(said(schema, value)).toBe(words)
  })
})

describe('where a draft cannot be taken', () => {
  const steps: Step[] = [
    wait('w', 'P1D'),
    { ...anEmail('m'), name: 'Thanks', subject: 'x'.repeat(301) },
    {
      key: 's',
      kind: 'split',
      branches: [
        {
          key: 'b',
          name: 'Second',
          when: ordersEver(-1),
          steps: [wait('v', 'soon')],
        },
      ],
      otherwise: [{ key: 't', kind: 'tag', change: 'add', tag: 'x'.repeat(61) }],
    },
  ]
  const faulty = aDefinition({ description: 'x'.repeat(1001), priority: 101, steps })

  test('each problem is at what can be selected, and called as it is on the screen', () => {
    const issues = definitionSchema.safeParse(faulty, { error: inputProblem }).error?.issues ?? []
    const found = issues.map(({ path, message }) => {
      const { place, words } = problemPlace(faulty, path.join('.'))
      return [`${words} ${message}`, place]
    })
    expect(found).toEqual([
      ['The description of the workflow is longer than 1000 characters', { kind: 'workflow' }],
      ['The priority of the workflow must be at most 100', { kind: 'workflow' }],
      ['The subject of “Thanks” is longer than 300 characters', { kind: 'step', key: 'm' }],
      [
        'The condition of the path “Second” must be at least 0',
        { kind: 'branch', branching: 's', branch: 'b' },
      ],
      [
        'The duration of a wait must be a duration like PT20M, P7D or P1M',
        { kind: 'step', key: 'v' },
      ],
      ['The name of a tag is longer than 60 characters', { kind: 'step', key: 't' }],
    ])
  })

  test('of a message also the part, of its blocks the innermost', () => {
    const inner = { key: 'in', kind: 'button', label: 'x', href: '' } as const
    const columns = { key: 'out', kind: 'columns', columns: [[], [inner]] } as const
    const mail = anEmail('m', { format: 'designed', blocks: [columns as never] })
    const definition = aDefinition({ steps: [mail] })
    const partAt = (path: string) => problemPlace(definition, `steps.0.${path}`).part
    expect(partAt('subject')).toEqual({ kind: 'subject' })
    expect(partAt('body')).toEqual({ kind: 'text' })
    expect(partAt('sender.address')).toEqual({ kind: 'envelope' })
    expect(partAt('blocks.0.key')).toEqual({ kind: 'block', key: 'out' })
    expect(partAt('blocks.0.columns.1.0.label')).toEqual({ kind: 'block', key: 'in' })
    expect(partAt('name')).toEqual({ kind: 'name' })
    expect(partAt('purpose')).toBeUndefined()
  })

  test.each([
    ['trigger.filter.value', 'The filter of the trigger', 'trigger'],
    ['entry.rule.duration', 'The duration of the entry rule', 'entry'],
    ['exclusions.0.when.count', 'The condition of the exclusions', 'exclusions'],
    ['steps', 'Something in the workflow', 'workflow'],
    ['steps.99.subject', 'The subject of the workflow', 'workflow'],
  ])('%s', (path, words, kind) => {
    expect(problemPlace(faulty, path)).toEqual({ words, place: { kind } })
  })
})
