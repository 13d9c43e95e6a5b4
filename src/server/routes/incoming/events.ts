import { z } from 'zod'
import { AppError } from '../../../backend/platform/errors.ts'
import { ingestEvents, keepRefused, MAX_BATCH, type Receipt } from '../../../backend/shop/index.ts'
import { outstandingUpTo } from '../../../backend/runs/index.ts'
import type { App, ServerContext } from '../../context.ts'
import { parse } from '../../bodies.ts'
import { requireKey } from '../../guards.ts'
import { takePlace } from '../../places.ts'

const receipt = z.object({
  index: z.int(),
  id: z.string().nullable(),
  status: z.enum(['accepted', 'duplicate', 'erased', 'refused']),
  /** Paths of what was sent and has no meaning here. */
  ignored: z.array(z.string()).optional(),
  problems: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
})
const eventsResponse = z.object({
  accepted: z.int(),
  duplicates: z.int(),
  refused: z.int(),
  events: z.array(receipt),
})

const STRUCTURED = 'application/cloudevents+json'
const BATCH = 'application/cloudevents-batch+json'

/**
 * Events in: CloudEvents 1.0 over HTTP, structured or batch, with an API key. Answers 200 when all
 * were taken, 207 when some were refused, 400 when all were.
 */
export function eventRoutes(app: App, context: ServerContext): void {
  const { db, places } = context
  workRoute(app, context)
  app.addContentTypeParser([STRUCTURED, BATCH], { parseAs: 'string' }, (_request, body, done) => {
    const parsed = parse(body as string)
    if ('error' in parsed) done(parsed.error)
    else done(null, parsed.value)
  })

  app.post(
    '/v1/events',
    {
      schema: { response: { '2xx': eventsResponse, 400: z.unknown() } },
      bodyLimit: 8 * 1024 * 1024,
      config: { keepsText: true },
      onRequest: [requireKey(context), takePlace(places, ({ keyShopId }) => keyShopId)],
    },
    async (request, reply) => {
      const inputs = eventsOf(request.body)
      const receipts = await ingestEvents(db, request.keyShopId, inputs)
      await keepRefused(db, request.keyShopId, request.keyHolder?.name ?? '', { inputs, receipts })
      const body = summaryOf(receipts)
      const status = body.refused === 0 ? 200 : body.refused < inputs.length ? 207 : 400
      return reply.status(status as 200).send(body)
    },
  )
}

const workQuery = z.object({ source: z.string().min(1).max(500), id: z.string().min(1).max(500) })
const workResponse = z.object({
  done: z.boolean(),
  events: z.int(),
  runs: z.int(),
  messages: z.int(),
})

/** Whether all that an event and those before it bring has been done: for whoever has to wait for it, as tests do. */
function workRoute(app: App, context: ServerContext): void {
  app.get(
    '/v1/work',
    {
      schema: { querystring: workQuery, response: { 200: workResponse } },
      onRequest: requireKey(context),
    },
    ({ keyShopId, query }) => outstandingUpTo(context.db, keyShopId, query),
  )
}

function eventsOf(body: unknown): unknown[] {
  if (!Array.isArray(body)) return [body]
  if (body.length > MAX_BATCH) {
    throw new AppError('bad_input', `At most ${MAX_BATCH} events fit into one request.`)
  }
  return body
}

function summaryOf(receipts: Receipt[]): z.infer<typeof eventsResponse> {
  const count = (status: Receipt['status']) =>
    receipts.filter((one) => one.status === status).length
  return {
    accepted: count('accepted'),
    duplicates: count('duplicate'),
    refused: count('refused'),
    events: receipts,
  }
}
