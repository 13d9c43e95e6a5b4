// Writes what is published of the core: the JSON Schema of workflow documents, the pages of fields, measures and settings; and the examples of the demo's workflows. npm run schema
import { writeFileSync } from 'node:fs'
import { configDoc } from '../src/backend/platform/configDoc.ts'
import { fieldsDoc } from '../src/core/words/fieldsDoc.ts'
import { measuresDoc } from '../src/core/words/measuresDoc.ts'
import { LIVE_WORKFLOWS } from '../src/demo/workflows/index.ts'
import { makeExamples } from '../src/demo/workflows/makeExamples.ts'
import { workflowJsonSchema } from '../src/core/workflow/jsonSchema.ts'

const docs = new URL('../docs/', import.meta.url)
const schema = `${JSON.stringify(workflowJsonSchema(), null, 2)}\n`
writeFileSync(new URL('schema/workflow.v1.json', docs), schema)
writeFileSync(new URL('fields.md', docs), fieldsDoc())
writeFileSync(new URL('measures.md', docs), measuresDoc())
writeFileSync(new URL('configuration.md', docs), configDoc())

const examples = LIVE_WORKFLOWS.map((one) => [one.name, makeExamples(one)])
const place = new URL('../src/demo/workflows/examples.json', import.meta.url)
writeFileSync(place, `${JSON.stringify(Object.fromEntries(examples))}\n`)
