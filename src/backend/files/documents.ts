import { randomBytes } from 'node:crypto'
import { and, eq, inArray } from 'drizzle-orm'
import { imageSize } from 'image-size'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { documents } from './tables.ts'

/** Larger ones are links better than attachments. */
export const MAX_DOCUMENT_BYTES = 5_000_000

/** A file that goes with messages. */
export interface Document {
  name: string
  type: string
  bytes: Buffer
}

/**
 * Keeps a file to be sent with messages; returns its id. What it is, is read from its bytes, not from
 * its name. Throws AppError for what many mail servers do not let through.
 */
export async function storeDocument(
  db: Db,
  shopId: string,
  { name, bytes }: { name: string; bytes: Buffer },
): Promise<string> {
  const type = typeOf(name, bytes)
  if (type === null) {
    throw new AppError('bad_input', 'Take a PDF, an image, a calendar file, a text or a CSV: other files are often refused by mail servers.') // prettier-ignore
  }
  const id = randomBytes(18).toString('base64url')
  await db.insert(documents).values({ shopId, id, name, type, bytes, madeAt: realNow() })
  return id
}

function typeOf(name: string, bytes: Buffer): string | null {
  const start = bytes.subarray(0, 15).toString('latin1')
  if (start.startsWith('%PDF-')) return 'application/pdf'
  if (start.startsWith('BEGIN:VCALENDAR')) return 'text/calendar'
  const image = imageType(bytes)
  if (image) return image
  if (!isText(bytes)) return null
  if (name.toLowerCase().endsWith('.csv')) return 'text/csv'
  return name.toLowerCase().endsWith('.txt') ? 'text/plain' : null
}

function imageType(bytes: Buffer): string | null {
  try {
    const { type } = imageSize(bytes)
    return type === 'png' ? 'image/png' : type === 'jpg' ? 'image/jpeg' : null
  } catch {
    // It throws for whatever is no image.
    return null
  }
}

function isText(bytes: Buffer): boolean {
  try {
    return !new TextDecoder('utf-8', { fatal: true }).decode(bytes).includes('\0')
  } catch {
    return false
  }
}

/** Files by their ids, in the order that is asked for; what is gone is missing. */
export async function documentsOf(
  db: Db,
  shopId: string,
  ids: readonly string[],
): Promise<Document[]> {
  const rows = await db
    .select()
    .from(documents)
    .where(and(eq(documents.shopId, shopId), inArray(documents.id, [...ids])))
  return ids.flatMap((id) => rows.find((row) => row.id === id) ?? [])
}
