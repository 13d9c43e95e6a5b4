import { pino, type Logger } from 'pino'

export type Log = Logger

/** The process's log: JSON lines to stdout, with anything secret taken out. */
export function makeLog(level: string): Log {
  return pino({
    level,
    redact: [
      'req.headers.authorization',
      'req.headers.cookie',
      'res.headers["set-cookie"]',
      'password',
    ],
  })
}
