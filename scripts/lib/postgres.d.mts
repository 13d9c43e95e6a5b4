/** A PostgreSQL server of the project's own, on loopback. */
export interface OwnPostgres {
  urlOf(database: string): string
  stop(): Promise<void>
  crash(): Promise<string>
}

export function startPostgres(
  name: string,
  options?: { fresh?: boolean; within?: string },
): Promise<OwnPostgres>
