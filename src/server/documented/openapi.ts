import { z } from 'zod'
import {
  PROBLEM_TITLES,
  problemResponse,
  problemType,
  type ProblemCode,
} from '../../contract/problem.ts'
import { keyScope, SCOPE_WORDS } from '../../contract/scopes.ts'
import { eventSchema } from '../../core/events/eventSchema.ts'
import { ERROR_STATUS } from '../../backend/platform/errors.ts'
import { FILES, SENT, type Content } from './contents.ts'
import { OPERATIONS, TAG_NAMES, type Access } from './operations.ts'

/** A part of an OpenAPI document, as far as it is written to here. */
interface OperationObject {
  responses?: Record<string, { description?: string; content?: Content }>
  requestBody?: unknown
  parameters?: unknown[]
  [name: string]: unknown
}
interface DocumentObject {
  paths?: Record<string, Record<string, OperationObject>>
  components?: { schemas?: Record<string, unknown> }
  [name: string]: unknown
}

export const INFO = {
  title: 'Yomble',
  version: '1',
  description: `Everything the screens do, for programs. Send a key as “Authorization: Bearer …”; each may do what it was made for: ${keyScope.options
    .map((scope) => `**${scope}** (${SCOPE_WORDS[scope].about})`)
    .join(', ')}.

Moments are milliseconds since 1970 (UTC); amounts are in the smallest unit of their currency. In events both are as CloudEvents and the shop write them. Lists come in pages: where an answer has \`after\`, send it along for the next page; where it has \`more\`, send the id of the last row as \`before\`.

Requests that change something may name an \`Idempotency-Key\`: sent again within a day they are answered as before and not done twice. Refusals are problem details (RFC 9457) with a \`code\`, and \`problems\` that say what is wrong where.`,
}

const json = (schema: z.ZodType): object => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, {
    io: 'input',
    unrepresentable: 'any',
    target: 'draft-2020-12',
  })
  return rest
}

/** The document as it is handed out: what routes do not say themselves is added from the table of operations. */
export function completed(given: object): object {
  const document = given as DocumentObject
  const paths: Record<string, Record<string, OperationObject>> = {}
  for (const [path, methods] of Object.entries(document.paths ?? {})) {
    const own: Record<string, OperationObject> = {}
    for (const [method, operation] of Object.entries(methods)) {
      own[method] = completedOperation(`${method.toUpperCase()} ${path}`, operation)
    }
    paths[path] = own
  }
  return {
    ...document,
    tags: TAG_NAMES.map((name) => ({ name })),
    paths,
    components: {
      ...document.components,
      schemas: {
        ...document.components?.schemas,
        Problem: json(problemResponse),
        Event: json(eventSchema),
      },
      securitySchemes: {
        key: {
          type: 'http',
          scheme: 'bearer',
          description: 'An API key. What it may do stands beside each operation.',
        },
        session: {
          type: 'apiKey',
          in: 'cookie',
          name: 'yomble_session',
          description: 'Somebody who is signed in.',
        },
      },
    },
  }
}

function completedOperation(key: string, operation: OperationObject): OperationObject {
  const known = OPERATIONS.get(key)
  if (!known) throw new RangeError(`“${key}” stands in no table of operations`)
  const { access, summary, tag } = known
  return {
    operationId: operationId(key),
    summary,
    tags: [tag],
    security: securityOf(access),
    ...operation,
    parameters: [
      ...(operation.parameters ?? []),
      ...(isDoneOnce(key, access) ? [IDEMPOTENCY_KEY] : []),
    ],
    ...(SENT[key] && { requestBody: { required: true, content: SENT[key] } }),
    responses: responsesOf(key, operation),
  }
}

const isDoneOnce = (key: string, access: Access): boolean =>
  !key.startsWith('GET ') && key.includes(' /api/') && access !== 'open' && access !== 'person'

const IDEMPOTENCY_KEY = {
  name: 'Idempotency-Key',
  in: 'header',
  required: false,
  description: 'Sent again within a day, the request is answered as before and not done twice.',
  schema: { type: 'string', maxLength: 200 },
}

function securityOf(access: Access): object[] {
  if (access === 'open') return []
  if (access === 'person') return [{ session: [] }]
  return access === 'events' ? [{ key: [access] }] : [{ key: [access] }, { session: [] }]
}

/** A name for clients that are made from the document: `postApiPeopleSearch`. */
function operationId(key: string): string {
  const words = key
    .replaceAll(/[{}]/g, '')
    .split(/[^A-Za-z0-9]+/)
    .filter((word) => word !== '')
  return words
    .map((word, at) =>
      at === 0 ? word.toLowerCase() : word.charAt(0).toUpperCase() + word.slice(1),
    )
    .join('')
}

const PROBLEM = {
  description: 'Refused, with what is wrong.',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
}

function responsesOf(
  key: string,
  { responses = {} }: OperationObject,
): NonNullable<OperationObject['responses']> {
  // An answer without a schema is nothing at all, or a file.
  const isTold = Object.values(responses).some(({ content }) => content !== undefined)
  const content = FILES[key]
  if (isTold) return { ...responses, default: PROBLEM }
  if (content) return { 200: { description: 'As a file or page.', content }, default: PROBLEM }
  return { 204: { description: 'Done.' }, default: PROBLEM }
}

/** What the codes of refusals mean, for whoever follows the address of one. */
export const problemList = (): object[] =>
  Object.entries(PROBLEM_TITLES).map(([code, title]) => ({
    type: problemType(code as ProblemCode),
    code,
    title,
    status: (ERROR_STATUS as Record<string, number>)[code] ?? 500,
  }))
