import type { FastifyError, FastifyReply, FastifyRequest } from 'fastify'
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod'
import type { ErrorResponse } from '../contract/session.ts'
import { AppError, ERROR_STATUS } from '../backend/platform/errors.ts'

/** Turns whatever a route threw into one answer: what happened, what to do, and where. */
export function answerError(error: FastifyError, request: FastifyRequest, reply: FastifyReply) {
  const { status, body } = describe(error)
  if (status >= 500) request.log.error({ err: error }, 'a request failed')
  return reply.status(status).send(body)
}

function describe(error: FastifyError): { status: number; body: ErrorResponse } {
  if (error instanceof AppError) {
    const { code, message, problems } = error
    return { status: ERROR_STATUS[code], body: { code, message, problems: [...problems] } }
  }
  if (hasZodFastifySchemaValidationErrors(error)) {
    const problems = error.validation.map((issue) => ({
      path: issue.instancePath.slice(1).replaceAll('/', '.') || '(the whole body)',
      message: issue.message ?? 'is not valid',
    }))
    const message = 'This cannot be taken as it is.'
    return { status: 400, body: { code: 'bad_input', message, problems } }
  }
  const status = error.statusCode ?? 500
  if (status < 500) {
    return { status, body: { code: 'bad_input', message: error.message, problems: [] } }
  }
  const message = 'Yomble ran into an error of its own. Nothing was changed; try again.'
  return { status: 500, body: { code: 'internal', message, problems: [] } }
}
