/** What a body or an answer can be, by its media type. */
export type Content = Readonly<Record<string, { schema: object }>>

const TEXT = { schema: { type: 'string' } }
const BYTES = { schema: { type: 'string', format: 'binary' } }
const ANY = { schema: {} }
const event = { $ref: '#/components/schemas/Event' }
const ROWS: Content = { 'text/csv': TEXT, 'application/x-ndjson': TEXT }
const PAGE: Content = { 'text/html': TEXT }
const PICTURES: Content = { 'image/png': BYTES, 'image/jpeg': BYTES, 'image/gif': BYTES, 'image/webp': BYTES } // prettier-ignore

/** Bodies that are read as they come. */
export const SENT: Readonly<Record<string, Content>> = {
  'POST /v1/events': {
    'application/cloudevents+json': { schema: event },
    'application/cloudevents-batch+json': {
      schema: { type: 'array', items: event, maxItems: 1000 },
    },
    'application/json': { schema: { oneOf: [event, { type: 'array', items: event, maxItems: 1000 }] } },
  },
  'POST /v1/reports': { 'message/rfc822': TEXT },
  'POST /v1/in/{token}': { 'application/json': ANY },
  'POST /api/files': PICTURES,
  'PUT /api/files/{id}': PICTURES,
  'POST /api/documents': { 'application/pdf': BYTES, 'application/octet-stream': BYTES },
  'POST /api/archive': { 'application/zip': BYTES },
  'POST /api/imports': { 'text/csv': BYTES, 'application/x-ndjson': BYTES },
} // prettier-ignore

/** Answers that are files or pages. */
export const FILES: Readonly<Record<string, Content>> = {
  'GET /livez': { 'text/plain': TEXT },
  'GET /metrics': { 'text/plain': TEXT },
  'GET /api/audit-file': ROWS,
  'GET /u/{token}': PAGE,
  'POST /u/{token}': PAGE,
  'POST /u/{token}/choices': PAGE,
  'GET /confirm-sender/{token}': PAGE,
  'POST /confirm-sender/{token}': PAGE,
  'GET /l/{token}': PAGE,
  'GET /s/{token}': PAGE,
  'GET /o/{token}': { 'image/gif': BYTES },
  'GET /files/{id}': PICTURES,
  'GET /api/documents/{id}': { 'application/octet-stream': BYTES },
  'GET /api/workflows/{id}/results.csv': { 'text/csv': TEXT },
  'GET /v1/calendar/{token}': { 'text/calendar': TEXT },
  'GET /api/archive': { 'application/zip': BYTES },
  'GET /api/people-file': ROWS,
  'GET /api/exports/{kind}': ROWS,
  'GET /api/imports/{id}/refused': { 'text/csv': TEXT },
  'GET /api/people/{id}/data': { 'application/json': ANY },
  'GET /api/people/{id}/data-page': PAGE,
  'GET /api/mails/{id}/source': { 'message/rfc822': TEXT },
  'POST /api/messages/eml': { 'message/rfc822': TEXT },
  'GET /api/problems': { 'application/json': ANY },
  'GET /api/openapi.json': { 'application/json': ANY },
  'GET /api/schema/workflow.json': { 'application/json': ANY },
}
