import { expect, test } from 'vitest'
import { openText, sealText } from './sealedText.ts'

const sealed = sealText('a secret', 'second factor', 'JBSWY3DPEHPK3PXP')

test('what is sealed is read with the secret of then, among others, and never looks the same twice', () => {
  expect(openText(['a secret'], 'second factor', sealed)).toBe('JBSWY3DPEHPK3PXP')
  expect(openText(['a newer one', 'a secret'], 'second factor', sealed)).toBe('JBSWY3DPEHPK3PXP')
  expect(sealText('a secret', 'second factor', 'JBSWY3DPEHPK3PXP')).not.toBe(sealed)
})

test('not with another secret, not for another use, and not once it was changed', () => {
  const bytes = Buffer.from(sealed, 'base64')
  bytes[bytes.length - 1] = (bytes.at(-1) ?? 0) ^ 1
  expect(openText(['another'], 'second factor', sealed)).toBeNull()
  expect(openText(['a secret'], 'something else', sealed)).toBeNull()
  expect(openText(['a secret'], 'second factor', bytes.toString('base64'))).toBeNull()
  expect(openText(['a secret'], 'second factor', 'short')).toBeNull()
})
