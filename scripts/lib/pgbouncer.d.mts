/** A PgBouncer in transaction mode, on loopback. */
export interface OwnPgbouncer {
  urlOf(database: string): string
  leadTo(postgresUrl: string): void
  stop(): Promise<void>
}

export function startPgbouncer(postgresUrl: string): Promise<OwnPgbouncer>
