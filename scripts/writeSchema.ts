// Writes the JSON Schema of the workflow document format: npm run schema
import { writeFileSync } from 'node:fs'
import { workflowJsonSchema } from '../src/core/workflow/jsonSchema.ts'

const file = new URL('../docs/schema/workflow.v1.json', import.meta.url)
writeFileSync(file, `${JSON.stringify(workflowJsonSchema(), null, 2)}\n`)
