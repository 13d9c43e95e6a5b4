import { sql, type SQL } from 'drizzle-orm'

/**
 * For `on conflict do update`: sets the columns to the new values if the event is not older than what
 * is known, and leaves them as they are if it is. `known` is the row that is there.
 */
export function takeNewer(columns: readonly string[]): SQL {
  const isNewer = 'excluded.as_of > 0 and known.as_of <= excluded.as_of'
  const set = columns.map(
    (column) => `${column} = case when ${isNewer} then excluded.${column} else known.${column} end`,
  )
  return sql.raw([...set, 'as_of = greatest(known.as_of, excluded.as_of)'].join(', '))
}
