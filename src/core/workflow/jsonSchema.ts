import { z } from 'zod'
import { definitionSchema, FORMAT_VERSION } from './definition.ts'

/** The JSON Schema (draft 2020-12) of the workflow document format. */
export function workflowJsonSchema(): object {
  return {
    ...z.toJSONSchema(definitionSchema, { target: 'draft-2020-12', unrepresentable: 'throw' }),
    $id: `https://yomble.example/schema/workflow.v${FORMAT_VERSION}.json`,
    title: 'Yomble workflow',
  }
}
