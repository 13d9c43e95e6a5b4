import { z } from 'zod'

/** The greatest number of PostgreSQL's type integer. */
export const MOST_INTEGER = 2_147_483_647

/** A number of a path or a query that names a row, a version or a revision. */
export const rowNumber = z.coerce.number().int().positive().max(MOST_INTEGER)
