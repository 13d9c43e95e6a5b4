import { DrizzleQueryError } from 'drizzle-orm/errors'

/** Why the database could not do what was asked, where that is no fault of the question. */
export type DatabaseTrouble = 'away' | 'full' | 'slow' | 'moving'

/** Of ours: the shop is being moved to another cell, or has been. */
export const MOVING_CODE = 'YM001'

/** PostgreSQL's codes (appendix A of its manual) and Node's, by what they come to. */
const CODES: readonly [pattern: RegExp, trouble: DatabaseTrouble][] = [
  // Ended by `statement_timeout`, or by somebody who no longer waits for the answer.
  [/^57014$/, 'slow'],
  [new RegExp(`^${MOVING_CODE}$`), 'moving'],
  [/^53[12]00$/, 'full'],
  // Connections broken or refused, shutting down, starting up, too many.
  [
    /^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|ENOTFOUND|EPIPE|ETIMEDOUT|EHOSTUNREACH)$/,
    'away',
  ],
]

/** What pg says of a connection that breaks while something is asked, without a code. */
const BROKEN =
  /^Connection terminated|^timeout exceeded when trying to connect|^Client has encountered a connection error/

/** What trouble with the database an error tells of; null for any other error. */
export function databaseTrouble(error: unknown): DatabaseTrouble | null {
  const cause = error instanceof DrizzleQueryError ? error.cause : error
  if (!(cause instanceof Error)) return null
  const code = 'code' in cause && typeof cause.code === 'string' ? cause.code : ''
  const known = CODES.find(([pattern]) => pattern.test(code))
  if (known) return known[1]
  return BROKEN.test(cause.message) ? 'away' : null
}
