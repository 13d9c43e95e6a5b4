import { pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { ALERT_CODES } from '../../core/alerts/alerts.ts'
import { instant, shopId } from '../platform/columns.ts'

/** What is not as it was, for as long as it is. */
export const alerts = pgTable(
  'alerts',
  {
    shopId: shopId(),
    code: text('code', { enum: ALERT_CODES }).notNull(),
    /** A workflow's or a connection's id; empty for the whole shop. */
    about: text('about').notNull(),
    says: text('says').notNull(),
    goesTo: text('goes_to').notNull(),
    /** When it was seen first, by the shop's clock. */
    since: instant('since').notNull(),
    /** When its owners were written to, in real time; null until the mail server has taken that. */
    toldAt: instant('told_at'),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.code, table.about] })],
)

/** When a worker last went through a shop for something that is done now and then. */
export const shopRounds = pgTable(
  'shop_rounds',
  {
    shopId: shopId(),
    kind: text('kind', { enum: ['count', 'watch'] }).notNull(),
    /** Real time. */
    at: instant('at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.kind] })],
)

/** What was last done with the installation as a whole. */
export const installationNotes = pgTable('installation_notes', {
  kind: text('kind', { enum: ['backup'] }).primaryKey(),
  /** Real time. */
  at: instant('at').notNull(),
})
