import { randomUUID } from 'node:crypto'
import { and, desc, eq, sql } from 'drizzle-orm'
import {
  likelyKind,
  missingIn,
  recognised,
  type ImportKind,
  type Mapping,
} from '../../core/imports/kinds.ts'
import { formatOf, type CellFormat } from '../../core/imports/cells.ts'
import type { FileRow, RowProblem } from '../../core/imports/toEvents.ts'
import type { Database, Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { addJobs } from '../platform/jobs.ts'
import { readClock } from '../shop/index.ts'
import { firstRows } from './rows.ts'
import { importPieces, importRefusals, imports, type ImportCounts } from './tables.ts'

export type Import = Omit<typeof imports.$inferSelect, 'shopId'>

const NOTHING: ImportCounts = { rows: 0, taken: 0, known: 0, refused: 0 }
const PIECE = 1024 * 1024
/** A year of a large shop's order lines has about a tenth of it. */
const MOST_BYTES = 1024 * 1024 * 1024

const byId = (shopId: string, id: string) => and(eq(imports.shopId, shopId), eq(imports.id, id))

/**
 * Keeps a file as it comes in, piece by piece, and says what it looks like. Throws AppError `too_large`, or
 * `bad_input` for one without rows.
 */
export async function keepFile(
  db: Database,
  shopId: string,
  { name, person, bytes }: { name: string; person: string; bytes: AsyncIterable<Buffer> },
): Promise<string> {
  const id = randomUUID()
  try {
    const size = await keepPieces(db, shopId, id, unpacked(bytes))
    const rows = await firstRows(db, shopId, id, 200)
    const [heads] = rows
    if (!heads || rows.length < 2) throw new AppError('bad_input', 'This file has no rows: a line of heads and one below are needed.') // prettier-ignore
    const kind = likelyKind(heads.cells)
    const { now } = await readClock(db, shopId)
    await db.insert(imports).values({
      shopId,
      id,
      name,
      bytes: size,
      kind,
      mapping: recognised(kind, heads.cells),
      format: formatOf(rows.slice(1).flatMap(({ cells }) => cells)),
      state: 'uploaded',
      counts: NOTHING,
      person,
      createdAt: now,
    })
    return id
  } catch (error) {
    await dropPieces(db, shopId, id)
    throw error
  }
}

/** How files that are packed begin: gzip (RFC 1952), ZIP, and what spreadsheets save, which is ZIP too. */
const PACKED = ['1f8b', '504b0304', 'd0cf11e0']

/** The bytes of a file as they come. Throws AppError for one that is packed: what it unpacks to nobody knows. */
async function* unpacked(bytes: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let isFirst = true
  for await (const chunk of bytes) {
    const start = chunk.subarray(0, 4).toString('hex')
    if (isFirst && PACKED.some((mark) => start.startsWith(mark))) {
      throw new AppError('bad_input', 'This file is packed, or a spreadsheet. Unpack it, or save it as CSV, and bring that in.') // prettier-ignore
    }
    isFirst = false
    yield chunk
  }
}

async function keepPieces(
  db: Database,
  shopId: string,
  importId: string,
  bytes: AsyncIterable<Buffer>,
): Promise<number> {
  let size = 0
  let place = 0
  let open: Buffer[] = []
  let held = 0
  const flush = async () => {
    if (held === 0) return
    await db.insert(importPieces).values({ shopId, importId, place, bytes: Buffer.concat(open) })
    place += 1
    open = []
    held = 0
  }
  for await (const chunk of bytes) {
    size += chunk.length
    if (size > MOST_BYTES) throw new AppError('too_large', 'A file may have at most 1 GB. Split it, and bring in the parts.') // prettier-ignore
    open.push(chunk)
    held += chunk.length
    if (held >= PIECE) await flush()
  }
  await flush()
  return size
}

async function dropPieces(db: Db, shopId: string, importId: string): Promise<void> {
  await db
    .delete(importPieces)
    .where(and(eq(importPieces.shopId, shopId), eq(importPieces.importId, importId)))
}

/** Everything that was brought in, the newest first. */
export function listImports(db: Db, shopId: string): Promise<Import[]> {
  return db.select().from(imports).where(eq(imports.shopId, shopId)).orderBy(desc(imports.createdAt)).limit(50) // prettier-ignore
}

/** One import. Throws AppError `not_found`. */
export async function findImport(db: Db, shopId: string, id: string): Promise<Import> {
  const [found] = await db.select().from(imports).where(byId(shopId, id))
  if (!found) throw new AppError('not_found', 'There is no such import.')
  return found
}

/** How a file is read: what its columns tell, and how cells are written. Throws AppError `conflict` once it has begun. */
export async function setReading(
  db: Db,
  shopId: string,
  id: string,
  reading: { kind: ImportKind; mapping: Mapping; format: Omit<CellFormat, 'zone'> },
): Promise<void> {
  const set = await db
    .update(imports)
    .set(reading)
    .where(and(byId(shopId, id), eq(imports.state, 'uploaded')))
    .returning({ id: imports.id })
  if (set.length === 0) throw new AppError('conflict', 'It has been brought in already.')
}

/**
 * Has a file brought in, in the background. Throws AppError `bad_input` where no column tells what is needed; `conflict` once
 * it has begun, or while another is on its way: what each has written is to be told apart.
 */
export async function beginImport(db: Database, shopId: string, id: string): Promise<void> {
  const { kind, mapping } = await findImport(db, shopId, id)
  const problems = missingIn(kind, mapping).map(({ key, label }) => ({ path: key, message: `no column tells the ${label}` })) // prettier-ignore
  if (problems.length > 0) throw new AppError('bad_input', 'Say which columns tell what is needed.', problems) // prettier-ignore
  await db.transaction(async (tx) => {
    await tx.execute(
      sql`select pg_advisory_xact_lock(hashtextextended(${`import of ${shopId}`}, 0))`,
    )
    const [other] = await tx.select({ name: imports.name }).from(imports).where(and(eq(imports.shopId, shopId), eq(imports.state, 'running'))) // prettier-ignore
    if (other)
      throw new AppError('conflict', `“${other.name}” is being brought in. Wait for its end.`)
    const begun = await tx
      .update(imports)
      .set({ state: 'running' })
      .where(and(byId(shopId, id), eq(imports.state, 'uploaded')))
      .returning({ id: imports.id })
    if (begun.length === 0) throw new AppError('conflict', 'It has been brought in already.')
    await addJobs(tx, [{ name: 'runImport', payload: { shopId, importId: id } }])
  })
}

/** Keeps how far an import has come. */
export async function noteProgress(
  db: Db,
  shopId: string,
  id: string,
  counts: ImportCounts,
): Promise<void> {
  await db.update(imports).set({ counts }).where(byId(shopId, id))
}

/** Notes how an import ended. */
export async function endImport(
  db: Db,
  shopId: string,
  id: string,
  end: Pick<Import, 'state'> & { error?: string },
): Promise<void> {
  const { now } = await readClock(db, shopId)
  await db.update(imports).set({ ...end, endedAt: now }).where(byId(shopId, id)) // prettier-ignore
}

/** Keeps rows that were refused, with why. */
export async function keepRefused(
  db: Db,
  shopId: string,
  importId: string,
  refused: readonly { row: FileRow; problems: RowProblem[] }[],
): Promise<void> {
  if (refused.length === 0) return
  await db
    .insert(importRefusals)
    .values(
      refused.map(({ row, problems }) => ({
        shopId,
        importId,
        place: row.place,
        cells: [...row.cells],
        problems,
      })),
    ) // prettier-ignore
    .onConflictDoNothing()
}

/** The rows of an import that were refused, in their order. */
export function refusedRows(
  db: Db,
  shopId: string,
  importId: string,
  most: number,
): Promise<{ place: number; cells: string[]; problems: RowProblem[] }[]> {
  return db
    .select({ place: importRefusals.place, cells: importRefusals.cells, problems: importRefusals.problems })
    .from(importRefusals)
    .where(and(eq(importRefusals.shopId, shopId), eq(importRefusals.importId, importId)))
    .orderBy(sql`place`)
    .limit(most)
} // prettier-ignore
