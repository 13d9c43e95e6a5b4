import type { z } from 'zod'
import { plural } from './quantities.ts'

const SHAPES: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'yes or no',
  array: 'a list',
  object: 'a group of values',
}

/**
 * What is wrong with a value, in words that go on after its name: "is longer than 300 characters".
 * Undefined where a schema has words of its own, or there are none here.
 */
export function inputProblem(issue: z.core.$ZodRawIssue): string | undefined {
  // oxlint-disable-next-line typescript/switch-exhaustiveness-check -- the codes are Zod's, and it has words for the rest
  switch (issue.code) {
    case 'invalid_type':
      return shapeProblem(issue)
    case 'too_big':
      return tooBig(issue)
    case 'too_small':
      return tooSmall(issue)
    case 'invalid_value':
      return `must be ${issue.values.length > 1 ? 'one of ' : ''}${issue.values.join(', ')}`
    case 'unrecognized_keys':
      return `has parts that are not known: ${issue.keys.join(', ')}`
    case 'invalid_format':
      return issue.format === 'email' ? 'is not an email address' : 'is not written as it must be'
    case 'invalid_union':
      return 'is nothing that can stand here'
    default:
      return undefined
  }
}

function shapeProblem({ input, expected }: Raw<z.core.$ZodIssueInvalidType>): string {
  return input === undefined ? 'is missing' : `must be ${SHAPES[expected] ?? expected}`
}

type Raw<Issue extends z.core.$ZodIssueBase> = z.core.$ZodRawIssue<Issue>

function tooBig({ origin, maximum, inclusive }: Raw<z.core.$ZodIssueTooBig>): string {
  if (origin === 'string') return `is longer than ${plural(Number(maximum), 'character')}`
  if (origin === 'array') return `has more than ${maximum} of them`
  return `must be ${inclusive ? 'at most' : 'less than'} ${maximum}`
}

function tooSmall({ origin, minimum, inclusive }: Raw<z.core.$ZodIssueTooSmall>): string {
  const isText = origin === 'string'
  if ((isText || origin === 'array') && Number(minimum) === 1) return 'is empty'
  if (isText) return `is shorter than ${plural(Number(minimum), 'character')}`
  if (origin === 'array') return `has fewer than ${minimum} of them`
  return `must be ${inclusive ? 'at least' : 'more than'} ${minimum}`
}
