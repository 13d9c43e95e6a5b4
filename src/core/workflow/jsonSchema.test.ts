import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { workflowJsonSchema } from './jsonSchema.ts'

test('the published schema is the one the code checks by (else: npm run schema)', () => {
  const file = new URL('../../../docs/schema/workflow.v1.json', import.meta.url)
  expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(workflowJsonSchema())
})
