import { z } from 'zod'
import {
  documentsOf,
  findImage,
  listFiles,
  MAX_DOCUMENT_BYTES,
  MAX_IMAGE_BYTES,
  removeFile,
  replaceImage,
  storeDocument,
  storeImage,
} from '../../../backend/files/index.ts'
import { libraryResponse } from '../../../contract/files.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { ownFile } from '../../../core/messages/ownFiles.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireWriter } from '../../guards.ts'

const params = z.object({ id: z.string().max(60) })
const query = z.object({ name: z.string().trim().max(200).default('image') })
const stored = z.object({ url: z.string(), width: z.int(), height: z.int() })

const documentQuery = z.object({ name: z.string().trim().min(1).max(200) })
const documentMade = z.object({ id: z.string(), name: z.string(), bytes: z.int() })

/** Images, and files that go with messages, are put in by colleagues. */
export function fileRoutes(app: App, { db }: ServerContext): void {
  app.addContentTypeParser(/^image\//, { parseAs: 'buffer', bodyLimit: MAX_IMAGE_BYTES }, (_request, body, done) => done(null, body)) // prettier-ignore
  app.post(
    '/api/files',
    { schema: { querystring: query, response: { 201: stored } }, preHandler: requireWriter },
    async ({ user, query: { name }, body }, reply) => {
      if (!Buffer.isBuffer(body)) throw new AppError('bad_input', 'Send the image as it is.')
      const { id, width, height } = await storeImage(db, user.shopId, { name, bytes: body })
      return reply.status(201).send({ url: ownFile(id), width, height })
    },
  )

  app.get(
    '/api/files',
    { schema: { response: { 200: libraryResponse } } },
    async ({ user: { shopId } }) => {
      const { pictures, documents } = await listFiles(db, shopId)
      return { pictures: pictures.map((one) => ({ ...one, url: ownFile(one.id) })), documents }
    },
  )

  app.put(
    '/api/files/:id',
    { schema: { params }, preHandler: requireWriter },
    async ({ user, params: { id }, body }, reply) => {
      if (!Buffer.isBuffer(body)) throw new AppError('bad_input', 'Send the image as it is.')
      await replaceImage(db, user.shopId, id, body)
      return reply.status(204).send()
    },
  )

  app.delete(
    '/api/files/:id',
    { schema: { params }, preHandler: requireWriter },
    async ({ user, params: { id } }, reply) => {
      await removeFile(db, user.shopId, id)
      return reply.status(204).send()
    },
  )

  app.addContentTypeParser('application/octet-stream', { parseAs: 'buffer', bodyLimit: MAX_DOCUMENT_BYTES }, (_request, body, done) => done(null, body)) // prettier-ignore
  app.post(
    '/api/documents',
    {
      schema: { querystring: documentQuery, response: { 201: documentMade } },
      preHandler: requireWriter,
      bodyLimit: MAX_DOCUMENT_BYTES,
    },
    async ({ user, query: { name }, body }, reply) => {
      if (!Buffer.isBuffer(body)) throw new AppError('bad_input', 'Send the file as it is, as application/octet-stream.') // prettier-ignore
      const id = await storeDocument(db, user.shopId, { name, bytes: body })
      return reply.status(201).send({ id, name, bytes: body.length })
    },
  )

  app.get('/api/documents/:id', { schema: { params } }, async ({ user, params: { id } }, reply) => {
    const [document] = await documentsOf(db, user.shopId, [id])
    if (!document) throw new AppError('not_found', 'There is no such file.')
    const name = encodeURIComponent(document.name)
    return reply
      .type(document.type)
      .header('content-disposition', `attachment; filename*=UTF-8''${name}`)
      .send(document.bytes)
  })
}

/** Whoever reads a message loads its images, and is signed in nowhere. */
export function publicFileRoutes(app: App, { db }: ServerContext): void {
  app.get('/files/:id', { schema: { params } }, async ({ params: { id } }, reply) => {
    const image = await findImage(db, id)
    if (!image) throw new AppError('not_found', 'There is no such image.')
    return (
      reply
        .type(image.type)
        // It may be replaced: within the hour everybody sees the new one.
        .header('cache-control', 'public, max-age=3600')
        .header('cross-origin-resource-policy', 'cross-origin')
        .send(image.bytes)
    )
  })
}
