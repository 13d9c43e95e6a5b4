import { z } from 'zod'
import { queryOf, sendFile } from '../data/api.ts'

const stored = z.object({ url: z.string(), width: z.int(), height: z.int() })
export type SentImage = z.infer<typeof stored>

/** Sends an image to be kept; resolves to its address and size. Throws ApiError or ServerAwayError. */
export function sendImage(file: File): Promise<SentImage> {
  return sendFile(`/api/files${queryOf({ name: file.name })}`, file, stored)
}
