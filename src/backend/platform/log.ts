import { DrizzleQueryError } from 'drizzle-orm/errors'
import { pino, type Logger } from 'pino'

export type Log = Logger

/** The process's log: JSON lines to stdout, with anything secret taken out. */
export function makeLog(level: string): Log {
  return pino({
    level,
    serializers: { err: withoutParameters },
    redact: [
      'req.headers.authorization',
      'req.headers.cookie',
      'res.headers["set-cookie"]',
      'password',
    ],
  })
}

/** An error for the log. What a failed query was about are people's addresses and names; they stay out. */
export function withoutParameters(error: unknown): unknown {
  if (!(error instanceof DrizzleQueryError)) return pino.stdSerializers.err(error as Error)
  const { query, cause } = error
  return {
    type: 'DrizzleQueryError',
    message: `Failed query: ${cause?.message ?? 'unknown reason'}`,
    query,
    stack: cause?.stack,
  }
}
