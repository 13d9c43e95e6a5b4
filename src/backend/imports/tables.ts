import { customType, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import type { CellFormat } from '../../core/imports/cells.ts'
import type { ImportKind, Mapping } from '../../core/imports/kinds.ts'
import type { RowProblem } from '../../core/imports/toEvents.ts'
import { instant, shopId } from '../platform/columns.ts'

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

/** How far an import has come. */
export interface ImportCounts {
  /** Rows of the file that were gone through. */
  rows: number
  /** Things that were new, that were known already, and rows that were refused. */
  taken: number
  known: number
  refused: number
}

/** Files that somebody brought in, and what came of them. */
export const imports = pgTable(
  'imports',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    bytes: instant('bytes').notNull(),
    kind: text('kind').$type<ImportKind>().notNull(),
    mapping: jsonb('mapping').$type<Mapping>().notNull(),
    format: jsonb('format').$type<Omit<CellFormat, 'zone'>>().notNull(),
    state: text('state', { enum: ['uploaded', 'running', 'done', 'failed', 'undone'] }).notNull(),
    counts: jsonb('counts').$type<ImportCounts>().notNull(),
    error: text('error'),
    /** Events that were taken in between these are its own. */
    firstSeq: instant('first_seq'),
    lastSeq: instant('last_seq'),
    person: text('person').notNull(),
    createdAt: instant('created_at').notNull(),
    endedAt: instant('ended_at'),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

/** The file itself, in pieces, until it is a day old. */
export const importPieces = pgTable(
  'import_pieces',
  {
    shopId: shopId(),
    importId: text('import_id').notNull(),
    place: integer('place').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.importId, table.place] })],
)

/** Rows that were refused, with why. */
export const importRefusals = pgTable(
  'import_refusals',
  {
    shopId: shopId(),
    importId: text('import_id').notNull(),
    place: integer('place').notNull(),
    cells: jsonb('cells').$type<string[]>().notNull(),
    problems: jsonb('problems').$type<RowProblem[]>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.importId, table.place] })],
)

/** What stood where an import has written, so that it can be undone; null where there was nothing. */
export const importBefore = pgTable(
  'import_before',
  {
    shopId: shopId(),
    importId: text('import_id').notNull(),
    of: text('of', { enum: ['customers', 'orders', 'subscriptions', 'products', 'dead_addresses'] }).notNull(),
    id: text('id').notNull(),
    before: jsonb('before'),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.importId, table.of, table.id] })],
) // prettier-ignore
