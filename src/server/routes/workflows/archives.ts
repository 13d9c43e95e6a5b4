import { Readable } from 'node:stream'
import {
  MOST_ARCHIVE_BYTES,
  packArchive,
  readArchive,
  takeArchive,
} from '../../../backend/archives/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { archiveQuery, archiveReport, takeArchiveQuery } from '../../../contract/archives.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** Workflows as one file with all they need, and such a file brought in. */
export function archiveRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get('/api/archive', { schema: { querystring: archiveQuery }, ...marketer }, async ({ user, query }, reply) => {
    const shop = await findShop(db, user.shopId)
    const ids = query.workflows?.split(',') ?? null
    return reply
      .type('application/zip')
      .header('content-disposition', 'attachment; filename="workflows.zip"')
      .send(Readable.from(packArchive(db, shop, ids)))
  })

  app.register(async (zips) => {
    zips.removeAllContentTypeParsers()
    zips.addContentTypeParser('*', { parseAs: 'buffer' }, (_request, body, done) => done(null, body))
    zips.post(
      '/api/archive',
      {
        schema: { querystring: takeArchiveQuery, response: { 200: archiveReport } },
        bodyLimit: MOST_ARCHIVE_BYTES,
        ...marketer,
      },
      async (request) => {
        if (!Buffer.isBuffer(request.body)) throw new AppError('bad_input', 'Send the archive as it is.')
        const { dry, brand } = takeArchiveQuery.parse(request.query)
        const archive = readArchive(request.body)
        return takeArchive(db, request.user.shopId, archive, { dry: dry === 'yes', withBrand: brand === 'yes' })
      },
    )
  })
} // prettier-ignore
