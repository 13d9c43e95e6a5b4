import { expect, test } from 'vitest'
import { aDefinition, anEmail, wait } from '../../testing/builders.ts'
import { differOnlyInWords } from './onlyWords.ts'

const mail = (over: object = {}) => anEmail('m', { subject: 'Hello', body: 'Dear', ...over })
const before = aDefinition({ steps: [wait('w', 'P3D'), mail()] })

test.each([
  ['the same', mail()],
  ['other words', mail({ subject: 'Good day', body: 'Dear all', name: 'Greeting', previewText: 'x' })],
  ['another language', mail({ translations: [] })],
])('%s is only words', (_name, step) => {
  expect(differOnlyInWords(before, aDefinition({ steps: [wait('w', 'P3D'), step] }))).toBe(true)
}) // prettier-ignore

test.each([
  ['another purpose', [wait('w', 'P3D'), mail({ purpose: 'marketing' })]],
  ['another sender', [wait('w', 'P3D'), mail({ sender: { name: 'M', address: 'm@x.example' } })]],
  ['a copy to somebody', [wait('w', 'P3D'), mail({ copies: ['m@x.example'] })]],
  ['another wait', [wait('w', 'P4D'), mail()]],
  ['one message less', [wait('w', 'P3D')]],
  ['another order', [mail(), wait('w', 'P3D')]],
])('%s is more than words', (_name, steps) => {
  expect(differOnlyInWords(before, aDefinition({ steps }))).toBe(false)
})

test('what starts it, and the name of the whole, are no words of a message', () => {
  expect(differOnlyInWords(before, { ...before, priority: before.priority + 1 })).toBe(false)
})
