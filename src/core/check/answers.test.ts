import { expect, test } from 'vitest'
import { aDefinition, anEmail, on } from '../../testing/builders.ts'
import { definitionSchema } from '../workflow/definition.ts'
import { answer, reopen, sortedByAnswer } from './answers.ts'
import { stops } from './finding.ts'
import { goLiveFindings } from './goLive.ts'

test('advice is answered with a note that stays, and can be opened again', () => {
  const steps = [anEmail('m', { subject: 'Still there?' })]
  const definition = aDefinition({ trigger: on('basket.item_added'), steps })
  const [finding] = goLiveFindings(definition)
  if (!finding) throw new Error('There is advice')
  const answered = answer(definition, finding, 'It is a test week.')
  expect(definitionSchema.parse(answered)).toEqual(answered)
  const sorted = sortedByAnswer(goLiveFindings(answered), answered.answered)
  expect(sorted).toEqual({
    open: [],
    answered: [{ finding: expect.anything() as unknown, note: 'It is a test week.' }],
  })
  const again = answer(answered, finding, 'Still.')
  expect(again.answered).toHaveLength(1)
  expect(reopen(again, finding)).toEqual(definition)
})

test('an error cannot be answered away', () => {
  const error = stops('no-name', { kind: 'workflow' }, 'It has no name.', '')
  const definition = answer(aDefinition(), error, 'So what?')
  expect(sortedByAnswer([error], definition.answered).open).toEqual([error])
})
