/** The kinds of failure a caller can do something about, with the HTTP status they answer with. */
export const ERROR_STATUS = {
  bad_input: 400,
  not_signed_in: 401,
  wrong_origin: 403,
  not_allowed: 403,
  not_found: 404,
  conflict: 409,
  other_shop: 403,
  too_large: 413,
  not_ready: 422,
  too_many: 429,
  busy: 503,
} as const
export type ErrorCode = keyof typeof ERROR_STATUS

/** One thing wrong with an input: where, and what; with a code where programs may want to tell it apart. */
export interface Problem {
  path: string
  code?: string
  message: string
}

/** An expected failure: what happened and what to do, in words a person can read. */
export class AppError extends Error {
  readonly code: ErrorCode
  readonly problems: readonly Problem[]
  /** After how many seconds another try makes sense. */
  readonly retryAfterS: number | undefined

  constructor(
    code: ErrorCode,
    message: string,
    problems: readonly Problem[] = [],
    { retryAfterS, cause }: { retryAfterS?: number; cause?: unknown } = {},
  ) {
    super(message, { cause })
    this.name = 'AppError'
    this.code = code
    this.problems = problems
    this.retryAfterS = retryAfterS
  }
}

/** The environment does not hold what the process needs to start. */
export class ConfigError extends Error {}

/** Anything thrown, as an Error with a message that is never empty. */
export function toError(thrown: unknown): Error {
  if (thrown instanceof Error) return thrown.message === '' ? new Error(thrown.name) : thrown
  return new Error(`Something that is no error was thrown: ${JSON.stringify(thrown)}`)
}
