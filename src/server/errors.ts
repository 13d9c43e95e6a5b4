import type { FastifyError, FastifyReply, FastifyRequest } from 'fastify'
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod'
import { PROBLEM_TITLES, problemType, type ProblemCode, type ProblemResponse } from '../contract/problem.ts' // prettier-ignore
import type { SignedIn } from '../backend/accounts/index.ts'
import {
  AppError,
  ERROR_STATUS,
  toError,
  type ErrorCode,
  type Problem,
} from '../backend/platform/errors.ts'
import { AskerGoneError } from '../backend/platform/reading.ts'
import { databaseTrouble, type DatabaseTrouble } from '../backend/platform/trouble.ts'

/** Turns whatever a route threw into one answer: what happened, what to do, and where. */
export function answerError(error: FastifyError, request: FastifyRequest, reply: FastifyReply) {
  const { status, body, retryAfterS } = describe(error)
  note(error, request, status)
  if (retryAfterS !== undefined) reply.header('retry-after', String(retryAfterS))
  return reply.status(status).type('application/problem+json').send(body)
}

/** Problem details (RFC 9457), with our code and what is wrong where as members of their own. */
function problemOf(
  code: ProblemCode,
  status: number,
  detail: string,
  problems: readonly Problem[] = [],
): ProblemResponse {
  const title = PROBLEM_TITLES[code]
  return { type: problemType(code), title, status, detail, code, problems: [...problems] }
}

interface Answer {
  status: number
  body: ProblemResponse
  retryAfterS?: number | undefined
}

function describe(error: FastifyError): Answer {
  if (error instanceof AppError) {
    const { code, message, problems, retryAfterS } = error
    const status = ERROR_STATUS[code]
    return { status, body: problemOf(code, status, message, problems), retryAfterS }
  }
  if (hasZodFastifySchemaValidationErrors(error)) {
    const problems = error.validation.slice(0, MOST_PROBLEMS).map((issue) => ({
      path: issue.instancePath.slice(1).replaceAll('/', '.') || '(the whole body)',
      message: issue.message ?? 'is not valid',
    }))
    const message = 'This cannot be taken as it is.'
    return { status: 400, body: problemOf('bad_input', 400, message, problems) }
  }
  if (error instanceof AskerGoneError) return IN_TROUBLE.slow
  const trouble = databaseTrouble(error)
  if (trouble) return IN_TROUBLE[trouble]
  const status = error.statusCode ?? 500
  if (status < 500) {
    return {
      status,
      body: problemOf(status === 429 ? 'too_many' : 'bad_input', status, error.message),
    }
  }
  const message = 'Yomble ran into an error of its own. Nothing was changed; try again.'
  return { status: 500, body: problemOf('internal', 500, message) }
}

/** More than anybody mends at a time. */
const MOST_PROBLEMS = 20

const busy = (message: string, retryAfterS: number): Answer => ({
  status: ERROR_STATUS.busy,
  body: problemOf('busy', ERROR_STATUS.busy, message),
  retryAfterS,
})

const IN_TROUBLE: Readonly<Record<DatabaseTrouble, Answer>> = {
  away: busy('The database is away. Nothing was changed; try again in a moment.', 5),
  full: busy('The database has no room left. Nothing was changed; make room, then try again.', 60),
  moving: busy(
    'This shop is being moved to another database. Nothing was changed; try again in a moment.',
    5,
  ),
  slow: busy('This took too long and was given up. Ask for less, or try again later.', 10),
}

/** Refusals that somebody who watches over an installation wants to see; the rest is everyday life. */
const WATCHED: ReadonlySet<ErrorCode> = new Set(['wrong_origin', 'not_allowed', 'too_many'])

function note(error: FastifyError, request: FastifyRequest, status: number): void {
  // The path alone: what stands behind a question mark may be somebody's name.
  const about = {
    method: request.method,
    route: request.routeOptions.url,
    address: request.ip,
    user: (request.user as SignedIn | undefined)?.userId,
  }
  if (hasGone(error)) request.log.debug(about, 'whoever asked has gone away')
  else if (databaseTrouble(error)) request.log.error({ ...about, err: error }, 'a request failed')
  else if (status >= 500) request.log.error({ ...about, err: error }, 'a request failed')
  else if (error instanceof AppError && isWatched(error, request)) {
    const why = error.cause === undefined ? {} : { why: toError(error.cause).message }
    request.log.warn({ ...about, code: error.code, ...why }, 'a request was refused')
  }
}

/** Somebody who has yet to sign in opens a page: that is no refusal worth a line. */
const isWatched = ({ code }: AppError, { method, headers }: FastifyRequest): boolean =>
  code === 'not_signed_in'
    ? method !== 'GET' || headers.authorization !== undefined
    : WATCHED.has(code)

const GONE = new Set(['ERR_STREAM_PREMATURE_CLOSE', 'FST_ERR_CTP_ABORTED'])

/** True when a browser closed the connection before it had its answer, which is nobody's mistake. */
const hasGone = (error: FastifyError): boolean =>
  error instanceof AskerGoneError ||
  error.message === 'premature close' ||
  error.message === 'aborted' ||
  GONE.has(error.code)
