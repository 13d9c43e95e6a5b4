/** A PostgreSQL server of the project's own, on loopback. */
export interface OwnPostgres {
  urlOf(database: string): string
  stop(): Promise<void>
  crash(): Promise<string>
  kill(): Promise<string>
  startStandby(): Promise<OwnStandby>
}

/** A copy of it that follows it by streaming replication, and can be read. */
export interface OwnStandby {
  urlOf(database: string): string
  stop(): Promise<void>
  kill(): Promise<string>
  start(): Promise<string>
  promote(): Promise<string>
}

export function startPostgres(
  name: string,
  options?: { fresh?: boolean; within?: string },
): Promise<OwnPostgres>
