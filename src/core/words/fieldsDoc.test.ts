import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { fieldsDoc } from './fieldsDoc.ts'

/** How a table is padded is the formatter's affair. */
const plain = (text: string): string => text.replaceAll(/ +/g, ' ').replaceAll(/-{3,}/g, '---')

test('the page of fields says what the catalogue says (else: npm run schema)', () => {
  const page = readFileSync(new URL('../../../docs/fields.md', import.meta.url), 'utf8')
  expect(plain(page)).toBe(plain(fieldsDoc()))
})
