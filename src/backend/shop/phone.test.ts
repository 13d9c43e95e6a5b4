import { expect, test } from 'vitest'
import { readPhone } from './phone.ts'

/** ITU-T E.164: a plus, the country's code, at most 15 digits. National forms as their plans write them. */
test.each<[string, string | null, string | null, boolean?]>([
  ['(202) 555-0123', 'US', '+12025550123'],
  ['tel:+1-202-555-0123', null, '+12025550123'],
  ['１２０２５５５０１２３', 'US', '+12025550123'],
  ['+1 202 555 0123 ext. 45', null, '+12025550123'],
  ['020 7946 0018', 'GB', '+442079460018', false],
  ['00 44 7700 900123', 'DE', '+447700900123'],
  ['+4407700900123', null, '+447700900123'],
  ['0491 570 156', 'AU', '+61491570156'],
  ['06 1234 5678', 'IT', '+390612345678', false],
  ['0612345678', 'FR', '+33612345678'],
  ['+81 90-1234-5678', null, '+819012345678'],
  ['912 345 678', 'PT', '+351912345678'],
  ['202-555-0123', 'GB', null],
  ['555-0123', 'US', null],
  ['911', 'US', null],
  ['+1234567890123456', null, null],
  ['+999123456789', null, null],
  ['912 345 678', null, null],
  ['not a number', 'PT', null],
])('%s in %s', (text, country, number, takesTexts = true) => {
  expect(readPhone(text, country)).toEqual(number === null ? null : { number, takesTexts })
})
