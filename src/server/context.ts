import type { FastifyInstance, FastifyBaseLogger, RawServerDefault } from 'fastify'
import type { IncomingMessage, ServerResponse } from 'node:http'
import type { ZodTypeProvider } from 'fastify-type-provider-zod'
import type { KeyHolder, SignedIn } from '../backend/accounts/index.ts'
import type { Config } from '../backend/platform/config.ts'
import type { Database } from '../backend/platform/db.ts'
import type { Reading } from '../backend/platform/reading.ts'
import type { Places } from './places.ts'

/** The Fastify instance with bodies, queries and answers typed by Zod. */
export type App = FastifyInstance<
  RawServerDefault,
  IncomingMessage,
  ServerResponse,
  FastifyBaseLogger,
  ZodTypeProvider
>

/** What the routes work with. */
export interface ServerContext {
  db: Database
  /** For searches and reports, which must not keep anything else waiting. */
  reading: Reading
  config: Config
  /** For what brings events. */
  places: Places
  /** The address people reach Yomble at, without a slash at the end. */
  publicUrl: string
}

declare module 'fastify' {
  interface FastifyRequest {
    /** Who is signed in; only on routes behind `requireUser`. */
    user: SignedIn
    /** The shop whose API key the request carries; only on routes behind `requireKey`. */
    keyShopId: string
    /** Whose API key the request carries, where it carries one. */
    keyHolder?: KeyHolder
  }
}
