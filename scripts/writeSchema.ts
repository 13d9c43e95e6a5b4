// Writes what is published of the core: the JSON Schema of workflow documents, the pages of fields and measures. npm run schema
import { writeFileSync } from 'node:fs'
import { fieldsDoc } from '../src/core/words/fieldsDoc.ts'
import { measuresDoc } from '../src/core/words/measuresDoc.ts'
import { workflowJsonSchema } from '../src/core/workflow/jsonSchema.ts'

const docs = new URL('../docs/', import.meta.url)
const schema = `${JSON.stringify(workflowJsonSchema(), null, 2)}\n`
writeFileSync(new URL('schema/workflow.v1.json', docs), schema)
writeFileSync(new URL('fields.md', docs), fieldsDoc())
writeFileSync(new URL('measures.md', docs), measuresDoc())
