import { sql } from 'drizzle-orm'
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { CHANNEL_NAMES } from '../../core/channels/catalogue.ts'
import type { Block, LeafBlock } from '../../core/blocks/blocks.ts'
import type { CustomerMarks } from '../../core/workflow/decision.ts'
import type { LocalHours } from '../../core/workflow/runState.ts'
import { instant, shopId } from '../platform/columns.ts'

export const messages = pgTable(
  'messages',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    runId: instant('run_id').notNull(),
    workflowId: text('workflow_id').notNull(),
    version: integer('version').notNull(),
    step: text('step').notNull(),
    customerId: text('customer_id').notNull(),
    /** How it leaves. Hooks are nothing anybody reads, but leave, fail and are mended alike. */
    channel: text('channel', { enum: CHANNEL_NAMES }).notNull().default('email'),
    marketing: boolean('marketing').notNull().default(false),
    /**
     * `queued` → `handingOver` → `sent`; `held` until `held_until`. A process that dies in between leaves `handingOver`
     * behind, which the next one turns into `unsure`.
     */
    status: text('status', {
      enum: ['queued', 'held', 'handingOver', 'sent', 'skipped', 'failed', 'unsure'],
    }).notNull(),
    /** The process that is handing it over. */
    worker: text('worker'),
    /** The Message-ID header, the same however often it is tried. */
    messageId: text('message_id').notNull(),
    toAddress: text('to_address'),
    subject: text('subject'),
    decidedAt: instant('decided_at').notNull(),
    sentAt: instant('sent_at'),
    attempts: integer('attempts').notNull().default(0),
    lastError: text('last_error'),
    heldUntil: instant('held_until'),
    /** The hours that its wait permits, should it be held back. */
    hours: jsonb('hours').$type<LocalHours>(),
    /** What the customer was marked with when it was decided; null where the workflow marks nobody. */
    marks: jsonb('marks').$type<CustomerMarks>(),
    openedAt: instant('opened_at'),
    clickedAt: instant('clicked_at'),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    uniqueIndex('messages_once_per_step').on(table.shopId, table.runId, table.step),
    index('messages_open')
      .on(table.shopId, table.status)
      .where(sql`status in ('queued', 'held', 'handingOver', 'failed', 'unsure')`),
    index('messages_customer').on(table.shopId, table.customerId, table.decidedAt),
    index('messages_message_id').on(table.shopId, table.messageId),
  ],
)

/** Whom each unsubscribe link is for. */
export const waysOut = pgTable('ways_out', {
  token: text('token').primaryKey(),
  shopId: shopId(),
  customerId: text('customer_id').notNull(),
})

/** Where followed links lead: only to what stood in a message. */
export const linkTargets = pgTable(
  'link_targets',
  {
    shopId: shopId(),
    /** A digest of the address. */
    id: text('id').notNull(),
    url: text('url').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

/** The links of text messages, one for each message. */
export const shortLinks = pgTable('short_links', {
  /** Short, and by chance, so that it cannot be guessed. */
  id: text('id').primaryKey(),
  shopId: shopId(),
  messageId: instant('message_id').notNull(),
  url: text('url').notNull(),
})

/** Whole designs that a shop has kept. Rows are never changed: each change makes the next revision. */
export const designs = pgTable(
  'designs',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    revision: integer('revision').notNull(),
    name: text('name').notNull(),
    subject: text('subject').notNull(),
    previewText: text('preview_text').notNull(),
    blocks: jsonb('blocks').$type<Block[]>().notNull(),
    madeAt: instant('made_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id, table.revision] })],
)

/** Blocks that are kept by themselves, and change wherever they are used. */
export const keptBlocksTable = pgTable(
  'kept_blocks',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    blocks: jsonb('blocks').$type<LeafBlock[]>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)
