import { stringify } from 'csv-stringify'
import { Readable } from 'node:stream'
import { z } from 'zod'
import { beginImport, findImport, firstRows, keepFile, listImports, refusedRows, setReading, tryImport, undoImport } from '../../../backend/imports/index.ts' // prettier-ignore
import { AppError } from '../../../backend/platform/errors.ts'
import { importDetail, importDryRun, importReading, importSummary, importUpload } from '../../../contract/imports.ts' // prettier-ignore
import { recognised } from '../../../core/imports/kinds.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string().max(100) })
const SHOWN = 6
/** More refused rows than that are mended in the file as a whole. */
const MOST_REFUSED = 100_000

/** Files that are brought in: kept as they come, tried, taken in in the background, undone. */
export function importRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/imports',
    { schema: { response: { 200: z.array(importSummary) } }, ...marketer },
    ({ user }) => listImports(db, user.shopId),
  )

  app.register(async (files) => {
    // A file is not parsed but handed on as it comes, however long it is.
    files.removeAllContentTypeParsers()
    files.addContentTypeParser('*', (_request, payload, done) => done(null, payload))
    files.post('/api/imports', { schema: { querystring: importUpload }, bodyLimit: Number.MAX_SAFE_INTEGER, ...marketer }, async (request, reply) => {
      const { name } = request.query as z.output<typeof importUpload>
      if (!(request.body instanceof Readable)) throw new AppError('bad_input', 'Send the file as the body, with its type.')
      const id = await keepFile(db, request.user.shopId, { name, person: request.user.name, bytes: request.body })
      return reply.status(201).send({ id })
    })
  })

  app.get(
    '/api/imports/:id',
    { schema: { params, response: { 200: importDetail } }, ...marketer },
    async ({ user, params: { id } }) => {
      const found = await findImport(db, user.shopId, id)
      const [heads, ...first] = await firstRows(db, user.shopId, id, SHOWN)
      return { ...found, heads: [...(heads?.cells ?? [])], first: first.map(({ cells }) => [...cells]) }
    },
  )

  app.put(
    '/api/imports/:id/reading',
    { schema: { params, body: importReading }, ...marketer },
    async ({ user, params: { id }, body }, reply) => {
      const before = await findImport(db, user.shopId, id)
      const [heads] = await firstRows(db, user.shopId, id, 1)
      // Another kind has other things to tell: its columns are recognised anew.
      const mapping = before.kind === body.kind ? body.mapping : recognised(body.kind, heads?.cells ?? [])
      await setReading(db, user.shopId, id, { ...body, mapping })
      return reply.status(204).send()
    },
  )

  app.post(
    '/api/imports/:id/try',
    { schema: { params, response: { 200: importDryRun } }, ...marketer },
    async ({ user, params: { id } }) => {
      const { refused, ...tried } = await tryImport(db, user.shopId, id)
      return { ...tried, refused: refused.map((one) => ({ ...one, cells: [...one.cells] })) }
    },
  )

  app.post('/api/imports/:id/begin', { schema: { params }, ...marketer }, async ({ user, params: { id } }, reply) => {
    await beginImport(db, user.shopId, id)
    return reply.status(204).send()
  })

  app.post('/api/imports/:id/undo', { schema: { params }, ...marketer }, async ({ user, params: { id } }, reply) => {
    await undoImport(db, user.shopId, id)
    return reply.status(204).send()
  })

  app.get('/api/imports/:id/refused', { schema: { params }, ...marketer }, async ({ user, params: { id } }, reply) => {
    const [heads] = await firstRows(db, user.shopId, id, 1)
    const rows = await refusedRows(db, user.shopId, id, MOST_REFUSED)
    const file = stringify({ bom: true })
    file.write([...(heads?.cells ?? []), 'row', 'why it was refused'])
    for (const { place, cells, problems } of rows) {
      file.write([...cells, String(place), problems.map(({ message }) => message).join('; ')])
    }
    file.end()
    return reply
      .type('text/csv; charset=utf-8')
      .header('content-disposition', 'attachment; filename="refused.csv"')
      .send(file)
  })
} // prettier-ignore
