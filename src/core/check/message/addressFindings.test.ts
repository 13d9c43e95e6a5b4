import { expect, test } from 'vitest'
import { aDefinition, anEmail } from '../../../testing/builders.ts'
import type { EmailStep, NoteStep } from '../../workflow/steps.ts'
import { addressesOf, addressFindings, type AddressBook } from './addressFindings.ts'

const BOOK: AddressBook = {
  postalAddress: 'Rua das Colmeias 12, Sintra',
  senders: [
    { address: 'hello@combwright.example', name: 'Combwright', verified: true },
    { address: 'tiago@combwright.example', name: 'Tiago', verified: true },
    { address: 'new@combwright.example', name: 'New', verified: false },
  ],
  groups: [
    { key: 'care', name: 'Care team', addresses: ['a@combwright.example'] },
    { key: 'empty', name: 'Nobody', addresses: [] },
  ],
}
const from = (address: string) =>
  aDefinition({ steps: [anEmail('m', { sender: { name: 'X', address } })] })
const note = (over: Partial<NoteStep>): NoteStep => ({
  key: 'n', kind: 'note', name: 'Call', to: [], subject: 'S', body: 'B', ...over,
}) // prettier-ignore
const codes = (definition: Parameters<typeof addressFindings>[0]) =>
  addressFindings(definition, BOOK).map(({ code, severity }) => `${severity} ${code}`)

test('a sender has to be one of the shop’s, and confirmed', () => {
  expect(codes(from('Tiago@Combwright.example'))).toEqual([])
  expect(codes(from('new@combwright.example'))).toEqual(['error sender-unknown'])
  expect(codes(from('stranger@elsewhere.example'))).toEqual(['error sender-unknown'])
  // That there is none is found without the address book.
  expect(codes(from(' '))).toEqual([])
})

test('the repair sends it from the shop’s own address, under the name it had', () => {
  const draft = from('stranger@elsewhere.example')
  const [finding] = addressFindings(draft, BOOK)
  const mended = finding?.repair?.mend(draft) ?? draft
  expect(addressFindings(mended, BOOK)).toEqual([])
  expect((mended.steps[0] as EmailStep).sender).toEqual({
    name: 'X',
    address: 'hello@combwright.example',
  })
})

test('a group that is gone, or has nobody in it, reaches nobody', () => {
  const steps = [note({ groups: ['care', 'empty', 'gone'] })]
  expect(codes(aDefinition({ steps }))).toEqual(['error group-empty', 'error group-gone'])
})

test('who is in two groups gets it once', () => {
  const groups = [
    { key: 'a', name: 'A', addresses: ['x@a.example', 'y@a.example'] },
    { key: 'b', name: 'B', addresses: ['Y@a.example', 'z@a.example'] },
    { key: 'c', name: 'C', addresses: ['nobody@a.example'] },
  ]
  expect(addressesOf(['z@a.example'], ['b', 'a'], groups)).toEqual(['z@a.example', 'x@a.example', 'y@a.example']) // prettier-ignore
  expect(addressesOf(['z@a.example'], undefined, groups)).toEqual(['z@a.example'])
})
