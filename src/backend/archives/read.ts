import { strFromU8, unzipSync } from 'fflate'
import { manifestSchema, type Manifest } from '../../core/archive/manifest.ts'
import { AppError } from '../platform/errors.ts'

/** What an archive may have as it comes, and unpacked. */
export const MOST_ARCHIVE_BYTES = 50 * 1024 * 1024
const MOST_UNPACKED = 150 * 1024 * 1024
const MOST_ENTRIES = 5000
const MANIFEST = 'archive.json'

export interface Archive {
  manifest: Manifest
  /** A picture or file beside the manifest; null where it is missing. */
  bytesAt: (path: string) => Buffer | null
}

/**
 * Reads an archive of workflows. What it says of its own size is looked at before anything is unpacked, and nothing grows beyond
 * that. Throws AppError `bad_input` with what is wrong where, or `too_large`.
 */
export function readArchive(zip: Uint8Array): Archive {
  let unpacked = 0
  let entries = 0
  const files = unzipped(zip, ({ originalSize }) => {
    unpacked += originalSize
    entries += 1
    if (unpacked > MOST_UNPACKED || entries > MOST_ENTRIES) throw new AppError('too_large', 'This archive holds more than 150 MB, or too many files.') // prettier-ignore
    return true
  })
  const text = files[MANIFEST]
  if (!text) throw new AppError('bad_input', `This is no archive of workflows: it has no ${MANIFEST}.`) // prettier-ignore
  const read = manifestSchema.safeParse(parsed(strFromU8(text)))
  if (!read.success) {
    const problems = read.error.issues.slice(0, 20).map(({ path, message }) => ({ path: path.join('.'), message })) // prettier-ignore
    throw new AppError(
      'bad_input',
      'This archive holds something that Yomble does not know.',
      problems,
    )
  }
  const bytesAt = (path: string): Buffer | null => (files[path] ? Buffer.from(files[path]) : null)
  return { manifest: read.data, bytesAt }
}

function unzipped(
  zip: Uint8Array,
  filter: (file: { originalSize: number }) => boolean,
): Readonly<Record<string, Uint8Array | undefined>> {
  try {
    return unzipSync(zip, { filter })
  } catch (error) {
    if (error instanceof AppError) throw error
    throw new AppError('bad_input', 'This is no ZIP file, or it is broken.')
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    throw new AppError('bad_input', `${MANIFEST} is not JSON.`)
  }
}
