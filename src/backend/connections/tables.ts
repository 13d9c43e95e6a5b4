import { boolean, index, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import type { PullRule, PullState } from '../../core/connections/pull.ts'
import type { SignatureRule } from '../../core/connections/signature.ts'
import { instant, shopId } from '../platform/columns.ts'

/** Ways in for what speaks a language of its own: an address, and how what comes there is put into events. */
export const connections = pgTable(
  'connections',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    /** A digest of the secret part of its address. */
    tokenHash: text('token_hash').notNull().unique(),
    /** JSONata; empty until somebody has written it. */
    mapping: text('mapping').notNull().default(''),
    signature: jsonb('signature').$type<SignatureRule>(),
    /** How it fetches what it does not get sent; null: it waits. */
    pull: jsonb('pull').$type<PullRule>(),
    /** When it fetches next, by real time. */
    nextPullAt: instant('next_pull_at'),
    pullState: jsonb('pull_state').$type<PullState>(),
    isOn: boolean('is_on').notNull().default(true),
    createdAt: instant('created_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

/** What came of a body. */
export interface BodyOutcome {
  /** How many events it came to, and how many of them were new. */
  events: number
  fresh: number
  problems: { path: string; message: string }[]
}

/** What arrived, as it arrived, so that nothing is lost while the mapping is mended. */
export const connectionBodies = pgTable(
  'connection_bodies',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    connectionId: text('connection_id').notNull(),
    receivedAt: instant('received_at').notNull(),
    body: text('body').notNull(),
    /** `unsigned`: its signature was missing or wrong, so it was not looked at. */
    state: text('state', { enum: ['taken', 'refused', 'unsigned'] }).notNull(),
    outcome: jsonb('outcome').$type<BodyOutcome>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('connection_bodies_newest').on(table.shopId, table.connectionId, table.id),
  ],
)
