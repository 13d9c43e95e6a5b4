import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { fieldsDoc } from './fieldsDoc.ts'
import { measuresDoc } from './measuresDoc.ts'

/** How a table is padded is the formatter's affair. */
const plain = (text: string): string => text.replaceAll(/ +/g, ' ').replaceAll(/-{3,}/g, '---')

test.each([
  ['fields', fieldsDoc],
  ['measures', measuresDoc],
])('the page of %s says what the core says (else: npm run schema)', (name, write) => {
  const page = readFileSync(new URL(`../../../docs/${name}.md`, import.meta.url), 'utf8')
  expect(plain(page)).toBe(plain(write()))
})
