import { randomBytes } from 'node:crypto'
import { eq } from 'drizzle-orm'
import { imageSize } from 'image-size'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { files } from './tables.ts'

/** Larger images make messages slow to open. */
export const MAX_IMAGE_BYTES = 2_000_000

const TYPES = {
  png: 'image/png',
  jpg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
} as const
type ImageType = keyof typeof TYPES
type MediaType = (typeof TYPES)[ImageType]

export interface StoredImage {
  id: string
  width: number
  height: number
}

/** Keeps an image, whatever it is said to be called. Throws AppError for what is none that mail programs show. */
export async function storeImage(
  db: Db,
  shopId: string,
  { name, bytes }: { name: string; bytes: Buffer },
): Promise<StoredImage> {
  const { type, width, height } = measured(bytes)
  const id = randomBytes(18).toString('base64url')
  await db.insert(files).values({ shopId, id, name, type, width, height, bytes, madeAt: realNow() })
  return { id, width, height }
}

/** Pictures of more pixels take more than a phone has memory for. */
const MOST_PIXELS = 25_000_000

/** What a picture is, read from its first bytes: nothing of it is decoded. Throws AppError. */
export function measured(bytes: Buffer): { type: MediaType; width: number; height: number } {
  const size = trySize(bytes)
  if (!size?.type || !Object.hasOwn(TYPES, size.type) || !size.width || !size.height) {
    throw new AppError('bad_input', 'This is no image that mail programs show. Take a PNG, JPEG, GIF or WebP.') // prettier-ignore
  }
  if (size.width * size.height > MOST_PIXELS) {
    throw new AppError('bad_input', `This picture is ${size.width} × ${size.height} pixels. Take a smaller one: up to 25 million pixels.`) // prettier-ignore
  }
  return { type: TYPES[size.type as ImageType], width: size.width, height: size.height }
}

function trySize(bytes: Buffer): ReturnType<typeof imageSize> | null {
  try {
    return imageSize(bytes)
  } catch {
    // It throws for whatever it does not know; what to do about it is said where it is asked.
    return null
  }
}

/** An image by its id; null where there is none. */
export async function findImage(
  db: Db,
  id: string,
): Promise<{ type: string; bytes: Buffer } | null> {
  const [row] = await db.select().from(files).where(eq(files.id, id))
  return row ? { type: row.type, bytes: row.bytes } : null
}
