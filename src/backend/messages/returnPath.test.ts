import { expect, test } from 'vitest'
import { readReturnPath, returnPathOf } from './returnPath.ts'

const about = { shopId: 'combwright', message: 123_456 }
const address = returnPathOf('secret', 'bounces@mail.shop.example', about)

test('each message has a return path of its own, short enough and in signs that every mail server keeps', () => {
  expect(address).toMatch(/^bounces\+[0-9a-z]+-[0-9a-z]{16}@mail\.shop\.example$/)
  const [local = ''] = returnPathOf('secret', 'bounces@mail.shop.example', { ...about, message: Number.MAX_SAFE_INTEGER }).split('@') // prettier-ignore
  // RFC 5321 section 4.5.3.1.1.
  expect(local.length).toBeLessThanOrEqual(64)
})

test('it is read however its letters were changed, and whoever stands around it', () => {
  expect(readReturnPath(['secret'], 'combwright', address)).toEqual(about)
  expect(readReturnPath(['newer', 'secret'], 'combwright', `To: <${address.toUpperCase()}>`)).toEqual(about) // prettier-ignore
})

test('nobody else can make one, and none of another shop is read', () => {
  expect(readReturnPath(['other'], 'combwright', address)).toBeNull()
  expect(readReturnPath(['secret'], 'other', address)).toBeNull()
  expect(readReturnPath(['secret'], 'combwright', address.replace('+2', '+3'))).toBeNull()
  expect(readReturnPath(['secret'], 'combwright', 'bounces@mail.shop.example')).toBeNull()
})
