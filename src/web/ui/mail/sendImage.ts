import { z } from 'zod'
import { fittedFile } from './fittedFile.ts'
import { queryOf, sendFile } from '../data/api.ts'

const stored = z.object({ url: z.string(), width: z.int(), height: z.int() })
export type SentImage = z.infer<typeof stored>

/** Sends an image to be kept, as messages need it; resolves to its address and size. Throws ApiError or ServerAwayError. */
export async function sendImage(file: File): Promise<SentImage> {
  return sendFile(`/api/files${queryOf({ name: file.name })}`, await fittedFile(file), stored)
}
