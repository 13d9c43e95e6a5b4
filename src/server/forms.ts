import type { FastifyRequest } from 'fastify'
import { AppError } from '../backend/platform/errors.ts'
import type { App } from './context.ts'

/** A form has a few boxes; whoever sends more is no form of ours. */
const bodyLimit = 8 * 1024

/**
 * Takes what plain HTML forms send, in either way of writing it down, as fields by their names. Mail
 * programs that unsubscribe by one click may send both (RFC 8058 3.2).
 */
export function acceptForms(app: App): void {
  app.addContentTypeParser(
    'application/x-www-form-urlencoded',
    { parseAs: 'string', bodyLimit },
    (_request, body, done) => {
      done(null, Object.fromEntries(new URLSearchParams(body as string)))
    },
  )
  app.addContentTypeParser(
    'multipart/form-data',
    { parseAs: 'buffer', bodyLimit },
    async (request: FastifyRequest, body: Buffer) => {
      const type = request.headers['content-type'] ?? ''
      try {
        const form = await new Response(body, { headers: { 'content-type': type } }).formData()
        return Object.fromEntries(form)
      } catch {
        // The platform's reader throws whatever is wrong with a form.
        throw new AppError('bad_input', 'This is no form.')
      }
    },
  )
}
