import { bigint, text } from 'drizzle-orm/pg-core'

/**
 * An instant as the core has it: milliseconds since 1970 in UTC. Kept as an integer so that nobody
 * is tempted to compute local times in SQL, whose zone data differ from the application's.
 */
export const instant = (name: string) => bigint(name, { mode: 'number' })

/** The shop a row belongs to; first in every key. */
export const shopId = () => text('shop_id').notNull()
