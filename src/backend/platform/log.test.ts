import { DrizzleQueryError } from 'drizzle-orm/errors'
import { expect, test } from 'vitest'
import { withoutParameters } from './log.ts'

test('a failed query is logged without what it was about', () => {
  const error = new DrizzleQueryError(
    'select 1 from customers where email = $1',
    ['ines@example.org'],
    new Error('connection lost'),
  )
  const logged = JSON.stringify(withoutParameters(error))
  expect(logged).not.toContain('ines@example.org')
  expect(logged).toContain('connection lost')
  expect(logged).toContain('select 1 from customers')
})

test('other errors are logged as they are', () => {
  expect(withoutParameters(new RangeError('no such step'))).toMatchObject({
    type: 'RangeError',
    message: 'no such step',
  })
})
